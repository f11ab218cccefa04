import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link as RouterLink } from 'react-router';
import { answered, api, type Choices, type NamedRuleSet, type Plan } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { Empty, Loaded } from '../../ui/States';
import { RULE_SETS } from '../../words/ruleSets';
import { LOADING, SET_UP } from '../../words/setUpForm';
import { type RuleRow, rows, ruleSetOf } from './form';
import { RuleList } from './RuleList';

/** Named rule sets: what they are, who uses them, and their next version. */
export default function RuleSetsPage() {
  const sets = useQuery(queries.ruleSets);
  const plan = useQuery(queries.plan);
  const choices = useQuery(queries.choices);
  const [adding, setAdding] = useState(false);
  return (
    <Box sx={{ maxWidth: 980, mx: 'auto' }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2, mb: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {RULE_SETS.title}
        </Typography>
        <Link component={RouterLink} to="/plan">
          {SET_UP.back}
        </Link>
        <Button variant="contained" onClick={() => setAdding(true)} disabled={adding}>
          {RULE_SETS.add}
        </Button>
      </Stack>
      <Loaded query={choices} what={LOADING.rules}>
        {(known) => (
          <Loaded query={plan} what={LOADING.plan}>
            {(all) => (
              <Loaded query={sets} what={RULE_SETS.what}>
                {(named) => (
                  <Stack spacing={1.5}>
                    {adding && (
                      <Paper sx={{ p: 2 }}>
                        <Editor choices={known} onDone={() => setAdding(false)} />
                      </Paper>
                    )}
                    {named.length === 0 && !adding && <Empty>{RULE_SETS.none}</Empty>}
                    {named.map((set) => (
                      <Paper key={set.id} component="section" aria-label={set.name} sx={{ p: 2 }}>
                        <OneSet set={set} plan={all} choices={known} />
                      </Paper>
                    ))}
                  </Stack>
                )}
              </Loaded>
            )}
          </Loaded>
        )}
      </Loaded>
    </Box>
  );
}

function OneSet({ set, plan, choices }: { set: NamedRuleSet; plan: Plan; choices: Choices }) {
  const client = useQueryClient();
  const [changing, setChanging] = useState(false);
  const users = plan.characteristics.filter((c) => c.named_rules?.set === set.id);
  const behind = users.filter((c) => c.named_rules?.version !== set.version);
  const take = useMutation({
    mutationFn: async () => {
      const named_rules = { set: set.id, version: set.version };
      const body = behind.map((c) => ({
        id: c.id,
        version: c.version,
        characteristic: { ...c, named_rules, rule_set: { list: set.rules } },
      }));
      await answered(api.POST('/api/plan/changes', { body }));
      await touch(client, { kind: 'plan' });
    },
  });
  return (
    <Stack spacing={1} sx={{ alignItems: 'flex-start' }}>
      <Typography variant="h2">{set.name}</Typography>
      <Typography color="text.secondary">
        {RULE_SETS.version(set.version)} {RULE_SETS.made(set.person, set.at)}
      </Typography>
      {changing ? (
        <Editor choices={choices} set={set} onDone={() => setChanging(false)} />
      ) : (
        <>
          <Typography>{RULE_SETS.inWords({ list: set.rules })}</Typography>
          <Typography color="text.secondary">
            {users.length > 0 && RULE_SETS.usedBy(users.length)}
            {behind.length > 0 && `, ${RULE_SETS.olderUsed(behind.length)}`}
          </Typography>
          <Stack direction="row" spacing={1}>
            <Button variant="outlined" color="inherit" onClick={() => setChanging(true)}>
              {RULE_SETS.change}
            </Button>
            {behind.length > 0 && (
              <Button variant="outlined" disabled={take.isPending} onClick={() => take.mutate()}>
                {RULE_SETS.take(behind.length, set.version)}
              </Button>
            )}
          </Stack>
          <Failed why={take.error} />
        </>
      )}
    </Stack>
  );
}

/** Names a set, or makes its next version. */
function Editor({ choices, set, onDone }: { choices: Choices; set?: NamedRuleSet; onDone: () => void }) {
  const client = useQueryClient();
  const form = useForm<{ name: string; rules: RuleRow[] }>({
    defaultValues: { name: set?.name ?? '', rules: rows(choices.rules, set?.rules ?? []) },
  });
  const { control, handleSubmit, setError, formState } = form;
  const save = useMutation({
    mutationFn: async ({ name, list }: { name: string; list: NamedRuleSet['rules'] }) => {
      if (set)
        await answered(
          api.POST('/api/plan/rule-sets/{id}/versions', {
            params: { path: { id: set.id } },
            body: { version: set.version, rules: list },
          }),
        );
      else await answered(api.POST('/api/plan/rule-sets', { body: { name, rules: list } }));
      await touch(client, { kind: 'plan' });
      onDone();
    },
  });
  const submit = handleSubmit(({ name, rules }) => {
    const chosen = ruleSetOf({ preset: 'own', rules }, []);
    const list = 'list' in chosen ? chosen.list : [];
    if (name.trim() === '') setError('name', { message: RULE_SETS.sayName }, { shouldFocus: true });
    else if (list.length === 0) setError('root', { message: RULE_SETS.chooseOne });
    else save.mutate({ name: name.trim(), list });
  });
  return (
    <Stack
      component="form"
      noValidate
      spacing={1.5}
      aria-label={set?.name ?? RULE_SETS.add}
      sx={{ width: '100%' }}
      onSubmit={(event) => void submit(event)}
    >
      {!set && <TextInput control={control} name="name" label={RULE_SETS.name} autoFocus sx={{ maxWidth: 420 }} />}
      <RuleList control={control} />
      {set && <Typography color="text.secondary">{RULE_SETS.keptBefore}</Typography>}
      {formState.errors.root && <Typography color="error">{formState.errors.root.message}</Typography>}
      <Failed why={save.error} />
      <Stack direction="row" spacing={1}>
        <Button type="submit" variant="contained" disabled={save.isPending}>
          {set ? RULE_SETS.saveAs(set.version + 1) : RULE_SETS.doAdd}
        </Button>
        <Button color="inherit" onClick={onDone}>
          {RULE_SETS.back}
        </Button>
      </Stack>
    </Stack>
  );
}
