import { Box, Button, Link, Stack, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { Link as RouterLink } from 'react-router';
import { answered, api, type ChartKind } from '../../api/client';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { PRESETS } from '../../words/plan';
import { RULE_SETS } from '../../words/ruleSets';
import { SET_UP } from '../../words/setUpForm';
import { ruleSetOf, type SetUpForm } from './form';
import { namedOptions, namedValue, rulesOf } from './namedRules';
import { Choice, Part, Text } from './parts';
import { Replay } from './Replay';
import { RuleCost } from './RuleCost';
import { RuleList } from './RuleList';

/** Which patterns are signals, and what to do when one comes. */
export function RulesPart({
  form,
  recommended,
  characteristic,
}: {
  form: SetUpForm;
  recommended: ChartKind | undefined;
  /** The one that is changed; nothing for a new one. */
  characteristic: string | undefined;
}) {
  const { control } = form;
  const preset = useWatch({ control, name: 'preset' });
  const sets = useQuery(queries.ruleSets).data ?? [];
  const named = rulesOf(sets, preset);
  return (
    <Part title={SET_UP.signals}>
      <Choice
        form={form}
        label={SET_UP.rules}
        name="preset"
        wide={12}
        options={[...Object.entries(PRESETS), ...namedOptions(sets, preset), ['own', SET_UP.ownList]]}
      />
      {named && (
        <Typography color="text.secondary" sx={{ gridColumn: '1 / -1' }}>
          {RULE_SETS.inWords({ list: [...named] })}.{' '}
          <Link component={RouterLink} to="/plan/rule-sets">
            {RULE_SETS.toAll}
          </Link>
        </Typography>
      )}
      {preset === 'own' && (
        <>
          <RuleList control={control} />
          <KeepRules form={form} />
        </>
      )}
      <RuleCost form={form} recommended={recommended} sets={sets} />
      {characteristic !== undefined && <Replay form={form} characteristic={characteristic} sets={sets} />}
      <Text form={form} name="reaction" label={SET_UP.reactionPlan} wide={12} lines={3} />
      <Text form={form} name="escalatesAfter" number label={SET_UP.escalatesAfter} />
      <Typography color="text.secondary" sx={{ gridColumn: '1 / -1' }}>
        {SET_UP.stepsAreShown}
      </Typography>
    </Part>
  );
}

/** Keeps the own list under a name, so that others can use it. */
function KeepRules({ form }: { form: SetUpForm }) {
  const client = useQueryClient();
  const [naming, setNaming] = useState(false);
  const { control, getValues, setError } = useForm({ defaultValues: { name: '' } });
  const keep = useMutation({
    mutationFn: async () => {
      const rules = ruleSetOf(form.getValues(), []);
      const list = 'list' in rules ? rules.list : [];
      const made = await answered(
        api.POST('/api/plan/rule-sets', { body: { name: getValues('name').trim(), rules: list } }),
      );
      await client.invalidateQueries({ queryKey: queries.ruleSets.queryKey });
      form.setValue('preset', namedValue(made.id, 1), { shouldDirty: true });
    },
  });
  const submit = () => {
    if (getValues('name').trim() === '') setError('name', { message: RULE_SETS.sayName }, { shouldFocus: true });
    else keep.mutate();
  };
  return (
    <Box sx={{ gridColumn: '1 / -1' }}>
      {naming ? (
        <Stack direction="row" spacing={1} sx={{ alignItems: 'flex-start' }}>
          <TextInput control={control} name="name" label={RULE_SETS.name} size="small" autoFocus />
          <Button variant="outlined" disabled={keep.isPending} onClick={submit}>
            {RULE_SETS.doAdd}
          </Button>
          <Button color="inherit" onClick={() => setNaming(false)}>
            {RULE_SETS.back}
          </Button>
        </Stack>
      ) : (
        <Button color="inherit" onClick={() => setNaming(true)}>
          {RULE_SETS.keep}
        </Button>
      )}
      <Failed why={keep.error} />
    </Box>
  );
}
