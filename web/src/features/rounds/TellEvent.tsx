import { Box, Button, Dialog, DialogContent, DialogTitle, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { v4 as uuid } from 'uuid';
import type { RoundStation } from '../../api/client';
import { queries } from '../../api/queries';
import { device } from '../../device/id';
import { useOutbox } from '../../outbox/Outbox';
import { Notice } from '../../ui/Notice';
import { sentenceFor } from '../../words/failures';
import { atClock } from '../../words/time';

/** So long an event can be taken back. */
const UNDO_MS = 8000;

/** Tells what happened at a station, in two taps; a new lot needs its name too. */
export function TellEvent({ station }: { station: RoundStation }) {
  const { submit, waiting, drop } = useOutbox();
  const [open, setOpen] = useState(false);
  const [lot, setLot] = useState('');
  const [entry, setEntry] = useState(() => uuid());
  const [failure, setFailure] = useState<unknown>(null);
  const kinds = useQuery({ ...queries.eventKinds, enabled: open });
  const close = () => {
    setOpen(false);
    setLot('');
    setFailure(null);
    setEntry(uuid());
  };
  const tell = async (kind: { id: string; name: string; names_lot: boolean }) => {
    const body = { device: device(), entry, kind: kind.id, lot: kind.names_lot ? lot : null };
    const title = `${station.name}: ${kind.name} ${body.lot ?? ''}`.trim();
    const outcome = await submit({ what: 'event', target: station.id, body }, title, { holdMs: UNDO_MS });
    if (outcome.kind === 'refused') setFailure(outcome.failure);
    else close();
  };
  // A tap is easily a slip: what was noted is said, and can be taken back for a moment.
  const held = waiting.filter((w) => w.deed.what === 'event' && w.deed.target === station.id && w.heldUntil != null && !w.refused);
  const lots = kinds.data?.some((kind) => kind.names_lot) ?? false;
  return (
    <>
      {held.map((event) => (
        <Box key={event.entry} role="status" sx={{ order: 1, flexBasis: '100%', display: 'flex', alignItems: 'center', gap: 1 }}>
          <Box component="span" sx={(theme) => ({ color: theme.palette.settled })}>✓ {event.title.slice(station.name.length + 2)} noted {atClock(event.at)}</Box>
          <Button size="small" color="inherit" variant="outlined" sx={{ minHeight: 48 }} onClick={() => void drop(event.entry)}>Undo</Button>
        </Box>
      ))}
      <Button size="small" color="inherit" onClick={() => setOpen(true)} aria-label={`Tell what happened at ${station.name}`}>
        What happened
      </Button>
      <Dialog open={open} onClose={close} aria-labelledby={`event-${station.id}`} fullWidth maxWidth="xs">
        <DialogTitle id={`event-${station.id}`}>What happened at {station.name}</DialogTitle>
        <DialogContent>
          <Stack spacing={1}>
            <Typography color="text.secondary">It stands in the diary of every chart of the station, with the time now.</Typography>
            {kinds.data?.filter((kind) => !kind.names_lot).map((kind) => (
              <Button key={kind.id} variant="outlined" color="inherit" sx={{ minHeight: 52 }} onClick={() => void tell(kind)}>
                {kind.name}
              </Button>
            ))}
            {lots && (
              <TextField size="small" label="Name of the lot" value={lot} sx={{ pt: 1 }} slotProps={{ htmlInput: { maxLength: 80 } }} onChange={(e) => setLot(e.target.value)} />
            )}
            {kinds.data?.filter((kind) => kind.names_lot).map((kind) => (
              <Button key={kind.id} variant="outlined" color="inherit" disabled={lot.trim() === ''} sx={{ minHeight: 52 }} onClick={() => void tell(kind)}>
                {kind.name}
              </Button>
            ))}
            {(failure ?? kinds.error) != null && <Notice kind="problem">{sentenceFor(failure ?? kinds.error)}</Notice>}
          </Stack>
        </DialogContent>
      </Dialog>
    </>
  );
}
