import { Box, Button, Dialog, DialogContent, DialogTitle, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { v4 as uuid } from 'uuid';
import type { RoundStation } from '../../api/client';
import { queries } from '../../api/queries';
import { device } from '../../device/id';
import { useOutbox } from '../../outbox/Outbox';
import { Failed } from '../../ui/Failed';
import { HAPPENED } from '../../words/rounds';

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
    const title = HAPPENED.waiting(station.name, kind.name, body.lot);
    const outcome = await submit({ what: 'event', target: station.id, body }, title, { holdMs: UNDO_MS });
    if (outcome.kind === 'refused') setFailure(outcome.failure);
    else close();
  };
  // A tap is easily a slip: what was noted is said, and can be taken back for a moment.
  const held = waiting.filter(
    (w) => w.deed.what === 'event' && w.deed.target === station.id && w.heldUntil != null && !w.refused,
  );
  const lots = kinds.data?.some((kind) => kind.names_lot) ?? false;
  return (
    <>
      {held.map((event) => (
        <Box
          key={event.entry}
          role="status"
          sx={{ order: 1, flexBasis: '100%', display: 'flex', alignItems: 'center', gap: 1 }}
        >
          <Box component="span" sx={(theme) => ({ color: theme.palette.settled })}>
            {HAPPENED.noted(event.title.slice(station.name.length + 2), event.at)}
          </Box>
          <Button
            size="small"
            color="inherit"
            variant="outlined"
            sx={{ minHeight: 48 }}
            onClick={() => void drop(event.entry)}
          >
            {HAPPENED.undo}
          </Button>
        </Box>
      ))}
      <Button size="small" color="inherit" onClick={() => setOpen(true)} aria-label={HAPPENED.beginAt(station.name)}>
        {HAPPENED.begin}
      </Button>
      <Dialog open={open} onClose={close} aria-labelledby={`event-${station.id}`} fullWidth maxWidth="xs">
        <DialogTitle id={`event-${station.id}`}>{HAPPENED.title(station.name)}</DialogTitle>
        <DialogContent>
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
            {lots && (
              <TextField
                label={HAPPENED.lot}
                value={lot}
                size="small"
                autoComplete="off"
                onChange={(event) => setLot(event.target.value)}
                slotProps={{ htmlInput: { maxLength: 80 } }}
              />
            )}
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
        </DialogContent>
      </Dialog>
    </>
  );
}
