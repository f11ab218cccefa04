import { Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { answered, api, type CauseGroup, type Origin } from '../../api/client';
import { touch } from '../../api/touches';
import { idsIn } from '../../ui/address';
import { Failed } from '../../ui/Failed';
import { Pick } from '../../ui/Pick';
import { CAUSE_GROUPS } from '../../words/causes';
import { originInWords, TREES } from '../../words/trees';
import { blank } from './tree';

const FACTS = ['what', 'place', 'since', 'share', 'cost'] as const;

/** A problem is named; what is known already comes along from where it was seen. */
export default function StartTreePage() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const [name, setName] = useState(params.get('name') ?? '');
  const [six, setSix] = useState('six');
  const origin = originIn(params);
  const start = useMutation({
    mutationFn: () => {
      const facts = Object.fromEntries(FACTS.map((fact) => [fact, params.get(fact) ?? ''])) as Record<
        (typeof FACTS)[number],
        string
      >;
      const groups = Object.entries(CAUSE_GROUPS) as [CauseGroup, string][];
      const ideas =
        six === 'six'
          ? groups.map(([group, text], i) => ({ ...blank(null, i), text, group }))
          : [{ ...blank(null, 0), text: TREES.firstBranch }];
      return answered(api.POST('/api/cause-trees', { body: { name, facts, origin, ideas } }));
    },
    onSuccess: async ({ id }) => {
      await touch(client, { kind: 'cause_tree', tree: id });
      void navigate(`/cause-trees/${id}`, { replace: true });
    },
  });
  return (
    <Paper
      component="form"
      aria-label={TREES.start}
      sx={{ p: 2, maxWidth: 720, mx: 'auto' }}
      onSubmit={(event) => {
        event.preventDefault();
        start.mutate();
      }}
    >
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        {TREES.start}
      </Typography>
      {origin && (
        <Typography color="text.secondary" sx={{ mb: 1.5 }}>
          {originInWords(origin)}.
        </Typography>
      )}
      <Stack spacing={1.5} sx={{ alignItems: 'flex-start' }}>
        <TextField
          label={TREES.problem}
          value={name}
          autoFocus
          onChange={(event) => setName(event.target.value)}
          slotProps={{ htmlInput: { maxLength: 80 } }}
        />
        <Pick
          label={TREES.branches}
          value={six}
          onPick={setSix}
          options={[
            ['six', TREES.six],
            ['own', TREES.own],
          ]}
        />
        <Button type="submit" variant="contained" disabled={start.isPending || name.trim() === ''}>
          {TREES.startIt}
        </Button>
      </Stack>
      <Failed why={start.error} />
    </Paper>
  );
}

/** What a tree is started from, as the link says. */
function originIn(params: URLSearchParams): Origin | null {
  const { of: characteristic, episode, study } = idsIn(params, ['of', 'episode', 'study']);
  const kind = params.get('defect');
  if (characteristic === undefined) return null;
  if (kind !== null) return { from: 'defect', characteristic, kind };
  if (episode !== undefined) return { from: 'episode', characteristic, episode };
  return study === undefined ? null : { from: 'study', characteristic, study };
}
