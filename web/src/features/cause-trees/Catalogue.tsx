import { Box, Button, TextField, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type CauseGroup, type Idea } from '../../api/client';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { Pick } from '../../ui/Pick';
import { CAUSE_GROUPS } from '../../words/causes';
import { TREES } from '../../words/trees';

/** What was found true goes into the catalogue, so that answers to signals can name it. */
export function Catalogue({
  tree,
  idea,
  cause,
  kept,
}: {
  tree: string;
  idea: Idea;
  cause: string | null;
  /** All that was typed is kept; only what is can be put there. */
  kept: boolean;
}) {
  const client = useQueryClient();
  const [name, setName] = useState(idea.text.slice(0, 80));
  const [group, setGroup] = useState<string>('machine');
  const add = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/cause-trees/{id}/catalogue', {
          params: { path: { id: tree } },
          body: { idea: idea.id, name, group: group as CauseGroup },
        }),
      ),
    onSuccess: async () => {
      await touch(client, { kind: 'cause_tree', tree });
      await touch(client, { kind: 'plan' });
    },
  });
  if (cause !== null) return <Notice kind="settled">{TREES.catalogued}</Notice>;
  return (
    <Box component="section" aria-label={TREES.catalogue} sx={{ width: '100%' }}>
      <Typography variant="h3">{TREES.catalogue}</Typography>
      <Box sx={{ display: 'flex', gap: 1, mt: 1, flexWrap: 'wrap' }}>
        <TextField
          size="small"
          label={TREES.catalogueName}
          value={name}
          onChange={(event) => setName(event.target.value)}
          slotProps={{ htmlInput: { maxLength: 80 } }}
        />
        <Pick label={TREES.catalogueGroup} value={group} onPick={setGroup} options={Object.entries(CAUSE_GROUPS)} />
        <Button disabled={!kept || add.isPending || name.trim() === ''} onClick={() => add.mutate()}>
          {TREES.add}
        </Button>
      </Box>
      <Failed why={add.error} />
    </Box>
  );
}
