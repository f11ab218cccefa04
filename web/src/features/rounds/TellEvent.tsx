import { Box, Button, Dialog, DialogContent, DialogTitle } from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import type { RoundStation } from '../../api/client';
import { useOutbox } from '../../outbox/Outbox';
import { Loading } from '../../ui/States';
import { HAPPENED } from '../../words/rounds';
import { eventForm } from './forms';

const EventForm = lazy(eventForm);

/** Tells what happened at a station, in two taps. */
export function TellEvent({ station }: { station: RoundStation }) {
  const { waiting, drop } = useOutbox();
  const [open, setOpen] = useState(false);
  const close = () => setOpen(false);
  // A tap is easily a slip: what was noted is said, and can be taken back for a moment.
  const held = waiting.filter(
    (w) => w.deed.what === 'event' && w.deed.target === station.id && w.heldUntil != null && !w.refused,
  );
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
          <Suspense fallback={<Loading what={HAPPENED.title(station.name)} />}>
            <EventForm station={station} onDone={close} />
          </Suspense>
        </DialogContent>
      </Dialog>
    </>
  );
}
