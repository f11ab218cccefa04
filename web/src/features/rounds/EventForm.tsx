import { Button, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { v4 as uuid } from 'uuid';
import type { RoundStation } from '../../api/client';
import { queries } from '../../api/queries';
import { device } from '../../device/id';
import { useOutbox } from '../../outbox/Outbox';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { HAPPENED } from '../../words/rounds';

/** So long an event can be taken back. */
const UNDO_MS = 8000;

/** What happened, by a tap; a new lot needs its name too. */
export default function EventForm({ station, onDone }: { station: RoundStation; onDone: () => void }) {
  const { submit } = useOutbox();
  const { control } = useForm({ defaultValues: { lot: '' } });
  const lot = useWatch({ control, name: 'lot' });
  const [entry] = useState(() => uuid());
  const [failure, setFailure] = useState<unknown>(null);
  const kinds = useQuery(queries.eventKinds);
  const tell = async (kind: { id: string; name: string; names_lot: boolean }) => {
    const body = { device: device(), entry, kind: kind.id, lot: kind.names_lot ? lot : null };
    const title = HAPPENED.waiting(station.name, kind.name, body.lot);
    const outcome = await submit({ what: 'event', target: station.id, body }, title, { holdMs: UNDO_MS });
    if (outcome.kind === 'refused') setFailure(outcome.failure);
    else onDone();
  };
  const lots = kinds.data?.some((kind) => kind.names_lot) ?? false;
  return (
    <Stack spacing={1}>
      <Typography color="text.secondary">{HAPPENED.inDiary}</Typography>
      {kinds.data
        ?.filter((kind) => !kind.names_lot)
        .map((kind) => (
          <Button
            key={kind.id}
            variant="outlined"
            color="inherit"
            sx={{ minHeight: 52 }}
            onClick={() => void tell(kind)}
          >
            {kind.name}
          </Button>
        ))}
      {lots && <TextInput control={control} name="lot" size="small" label={HAPPENED.lot} longest={80} sx={{ pt: 1 }} />}
      {kinds.data
        ?.filter((kind) => kind.names_lot)
        .map((kind) => (
          <Button
            key={kind.id}
            variant="outlined"
            color="inherit"
            disabled={lot.trim() === ''}
            sx={{ minHeight: 52 }}
            onClick={() => void tell(kind)}
          >
            {kind.name}
          </Button>
        ))}
      <Failed why={failure ?? kinds.error} />
    </Stack>
  );
}
