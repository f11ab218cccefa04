import { Box, Typography } from '@mui/material';
import { useFieldArray, useWatch } from 'react-hook-form';
import type { ChartKind } from '../../api/client';
import { TextInput, Tick } from '../../ui/fields';
import { PRESETS } from '../../words/plan';
import { PARAMETER_NAMES, RULES_OFFERED, SET_UP } from '../../words/setUpForm';
import { PARAMETERS, type SetUpForm } from './form';
import { Choice, Part, Text } from './parts';
import { RuleCost } from './RuleCost';

/** Which patterns are signals, and what to do when one comes. */
export function RulesPart({ form, recommended }: { form: SetUpForm; recommended: ChartKind | undefined }) {
  const { control } = form;
  const preset = useWatch({ control, name: 'preset' });
  return (
    <Part title={SET_UP.signals}>
      <Choice
        form={form}
        label={SET_UP.rules}
        name="preset"
        wide={12}
        options={[...Object.entries(PRESETS), ['own', SET_UP.ownList]]}
      />
      {preset === 'own' && <OwnList form={form} />}
      <RuleCost form={form} recommended={recommended} />
      <Text form={form} name="reaction" label={SET_UP.reactionPlan} wide={12} lines={3} />
      <Typography color="text.secondary" sx={{ gridColumn: '1 / -1' }}>
        {SET_UP.stepsAreShown}
      </Typography>
    </Part>
  );
}

/** Rules chosen one by one, with their parameters. */
function OwnList({ form: { control } }: { form: SetUpForm }) {
  const { fields } = useFieldArray({ control, name: 'rules' });
  const rules = useWatch({ control, name: 'rules' });
  return (
    <Box sx={{ gridColumn: '1 / -1', display: 'grid', gap: 0.5 }}>
      {fields.map(({ id, kind, ...taken }, place) => (
        <Box key={id} sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap', minHeight: 48 }}>
          <Tick control={control} name={`rules.${place}.on`} label={RULES_OFFERED[kind]} sx={{ flex: '1 1 320px' }} />
          {PARAMETERS.filter((parameter) => taken[parameter] !== null).map((parameter) => (
            <TextInput
              key={parameter}
              control={control}
              name={`rules.${place}.${parameter}`}
              label={PARAMETER_NAMES[parameter]}
              spoken={`${RULES_OFFERED[kind]}: ${PARAMETER_NAMES[parameter]}`}
              keys="decimal"
              size="small"
              disabled={!rules[place]?.on}
              sx={{ width: 104 }}
            />
          ))}
        </Box>
      ))}
    </Box>
  );
}
