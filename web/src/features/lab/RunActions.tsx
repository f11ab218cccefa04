import { Box, Button, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { v4 as uuid } from 'uuid';
import { answered, api, type RunView } from '../../api/client';
import { touch } from '../../api/touches';
import { useMayAt } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Pick } from '../../ui/Pick';
import { LAB_QUEUE } from '../../words/lab';
import { RUN_ENTRY } from '../../words/run';
import { when } from '../../words/time';

/** The levels that a run measured, by name. */
function levelsOf(run: RunView): [string, string][] {
  return run.judgements.flatMap((judged) =>
    judged.results.map(({ characteristic, level }): [string, string] => [
      characteristic,
      RUN_ENTRY.level(judged.name, level),
    ]),
  );
}

/** What was done about a result, or about the whole run; and room to write more down, in a list only when asked for. */
export function RunActions({ run, inList = false }: { run: RunView; inList?: boolean }) {
  const may = useMayAt('release_run', run.station);
  const [writing, setWriting] = useState(!inList);
  const names = new Map(levelsOf(run));
  return (
    <Box>
      {run.actions.length === 0 && !may && <Typography color="text.secondary">{LAB_QUEUE.noAction}</Typography>}
      {run.actions.map((action) => (
        <Box key={`${action.at} ${action.text}`} sx={{ mb: 0.75 }}>
          <Typography sx={{ overflowWrap: 'anywhere', whiteSpace: 'pre-wrap' }}>{action.text}</Typography>
          <Typography variant="body2" color="text.secondary">
            {[names.get(action.characteristic ?? '') ?? LAB_QUEUE.wholeRun, action.person, when(action.at)].join(', ')}
          </Typography>
        </Box>
      ))}
      {may && writing && <WriteAction run={run} />}
      {may && !writing && (
        <Button size="small" color="inherit" onClick={() => setWriting(true)}>
          {LAB_QUEUE.write}
        </Button>
      )}
    </Box>
  );
}

function WriteAction({ run }: { run: RunView }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState({ text: '', level: '', entry: uuid() });
  const write = useMutation({
    mutationFn: async () => {
      const { text, level, entry } = typed;
      const body = { text, entry, characteristic: level === '' ? null : level };
      await answered(api.POST('/api/runs/{id}/actions', { params: { path: { id: run.id } }, body }));
      await touch(client, { kind: 'run', station: run.station });
    },
    onSuccess: () => setTyped({ text: '', level: '', entry: uuid() }),
  });
  return (
    <Stack
      component="form"
      direction="row"
      sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'center', mt: 0.5 }}
      onSubmit={(event) => {
        event.preventDefault();
        write.mutate();
      }}
    >
      <TextField
        size="small"
        label={LAB_QUEUE.action}
        value={typed.text}
        sx={{ flex: 1, minWidth: 220 }}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
        // Other words are another entry.
        onChange={(event) => setTyped({ ...typed, text: event.target.value, entry: uuid() })}
      />
      <Pick
        label={LAB_QUEUE.about}
        value={typed.level}
        options={[['', LAB_QUEUE.wholeRun], ...levelsOf(run)]}
        onPick={(level) => setTyped({ ...typed, level, entry: uuid() })}
      />
      <Button type="submit" variant="outlined" color="inherit" disabled={typed.text.trim() === '' || write.isPending}>
        {LAB_QUEUE.keep}
      </Button>
      <Failed why={write.error} />
    </Stack>
  );
}
