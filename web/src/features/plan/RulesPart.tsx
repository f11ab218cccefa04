import { Box, Typography } from '@mui/material';
import { useFieldArray, useWatch } from 'react-hook-form';
import { TextInput, Tick } from '../../ui/fields';
import { PRESETS } from '../../words/plan';
import { PARAMETERS, RULES_OFFERED, SET_UP } from '../../words/setUpForm';
import type { RuleRow, SetUpForm } from './form';
import { Choice, Part, Text } from './parts';

/** Which patterns are signals, and what to do when one comes. */
export function RulesPart({ form }: { form: SetUpForm }) {
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
      {fields.map(({ id, kind }, place) => (
        <Box key={id} sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap', minHeight: 48 }}>
          <Tick control={control} name={`rules.${place}.on`} label={RULES_OFFERED[kind]} sx={{ flex: '1 1 320px' }} />
          {TAKES[kind].map((parameter) => (
            <TextInput
              key={parameter}
              control={control}
              name={`rules.${place}.${parameter}`}
              label={PARAMETERS[parameter]}
              spoken={`${RULES_OFFERED[kind]}: ${PARAMETERS[parameter]}`}
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

/** The parameters of each rule, in the order in which they are said. */
const TAKES: Readonly<Record<RuleRow['kind'], readonly ('m' | 'n' | 'k')[]>> = {
  beyond: ['k'],
  one_side: ['n'],
  trend: ['n'],
  alternating: ['n'],
  m_of_n: ['m', 'n', 'k'],
  hugging: ['n', 'k'],
  avoiding: ['n', 'k'],
};
