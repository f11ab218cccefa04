import { Button, Stack, Typography } from '@mui/material';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { v4 as uuid } from 'uuid';
import type { RoundStation } from '../../api/client';
import { device } from '../../device/id';
import { useOutbox } from '../../outbox/Outbox';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { PIECES } from '../../words/rounds';

/** How many pieces were made since it was last told. */
export default function PiecesForm({ station, onDone }: { station: RoundStation; onDone: () => void }) {
  const { submit } = useOutbox();
  const [entry, setEntry] = useState(() => uuid());
  const [failure, setFailure] = useState<unknown>(null);
  const { control, handleSubmit } = useForm({ defaultValues: { pieces: '' } });
  const typed = useWatch({ control, name: 'pieces' });
  const count = handleSubmit(async ({ pieces: text }) => {
    const pieces = Number(text);
    const outcome = await submit(
      { what: 'pieces', target: station.id, body: { device: device(), entry, pieces } },
      PIECES.waiting(station.name, pieces),
    );
    setEntry(uuid());
    if (outcome.kind === 'refused') setFailure(outcome.failure);
    else onDone();
  });
  return (
    <Stack component="form" spacing={1.5} onSubmit={(event) => void count(event)}>
      <Typography color="text.secondary">{PIECES.since}</Typography>
      <TextInput
        control={control}
        name="pieces"
        label={PIECES.pieces}
        autoFocus
        keys="numeric"
        tidy={(text) => text.replace(/\D/g, '')}
      />
      <Failed why={failure} />
      <Button type="submit" variant="contained" disabled={typed === ''}>
        {PIECES.count}
      </Button>
    </Stack>
  );
}
