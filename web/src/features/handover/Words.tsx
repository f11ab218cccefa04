import { Box, Button, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { v4 as uuid } from 'uuid';
import { answered, api, type HandoverView } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';

import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { Pick } from '../../ui/Pick';
import { HANDOVER } from '../../words/handover';
import { when } from '../../words/time';
import { Part } from './Part';

/** What was left to say, and room for more. */
export function Words({ view }: { view: HandoverView }) {
  const mayWrite = useMay('write_note');
  return (
    <Part title={HANDOVER.words}>
      {view.words.length === 0 && <Typography color="text.secondary">{HANDOVER.noWords}</Typography>}
      {view.words.map((word) => (
        <Box key={word.id} sx={{ mt: 1 }}>
          <Typography sx={{ overflowWrap: 'anywhere', whiteSpace: 'pre-wrap' }}>{word.text}</Typography>
          <Typography color="text.secondary" variant="body2">
            {[word.person, when(word.at), word.area].filter((part) => part != null).join(', ')}
          </Typography>
        </Box>
      ))}
      {mayWrite && <LeaveWords shift={view.began} />}
    </Part>
  );
}

/** What is typed stays until it is kept; sent again it is the same entry. */
function LeaveWords({ shift }: { shift: string }) {
  const client = useQueryClient();
  const areas = useQuery(queries.plan).data?.areas ?? [];
  const [typed, setTyped] = useState({ text: '', area: '', entry: uuid() });
  const leave = useMutation({
    mutationFn: async () => {
      const { text, area, entry } = typed;
      await answered(
        api.POST('/api/handover/words', { body: { shift, text, entry, area: area === '' ? null : area } }),
      );
      await touch(client, { kind: 'handover' });
    },
    onSuccess: () => setTyped({ text: '', area: typed.area, entry: uuid() }),
  });
  return (
    <Stack
      component="form"
      sx={{ mt: 1.5, gap: 1, displayPrint: 'none' }}
      onSubmit={(event) => {
        event.preventDefault();
        leave.mutate();
      }}
    >
      <TextField
        label={HANDOVER.write}
        multiline
        minRows={2}
        value={typed.text}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
        // Other words are another entry.
        onChange={(event) => setTyped({ ...typed, text: event.target.value, entry: uuid() })}
      />
      <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
        <Pick
          label={HANDOVER.about}
          value={typed.area}
          options={[['', HANDOVER.allAreas], ...areas.map(({ id, name }): [string, string] => [id, name])]}
          onPick={(area) => setTyped({ ...typed, area, entry: uuid() })}
        />
        <Button type="submit" variant="contained" disabled={typed.text.trim() === '' || leave.isPending}>
          {HANDOVER.leave}
        </Button>
      </Stack>
      <Failed why={leave.error} />
      {leave.isSuccess && typed.text === '' && <Notice kind="settled">{HANDOVER.left}</Notice>}
    </Stack>
  );
}
