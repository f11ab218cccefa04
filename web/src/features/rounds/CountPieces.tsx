import { Button, Dialog, DialogContent, DialogTitle, Stack, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { v4 as uuid } from 'uuid';
import type { RoundStation } from '../../api/client';
import { device } from '../../device/id';
import { useOutbox } from '../../outbox/Outbox';
import { Failed } from '../../ui/Failed';
import { PIECES } from '../../words/rounds';

/** Tells how many pieces were made, where samples are due by their number. */
export function CountPieces({ station }: { station: RoundStation }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" color="inherit" onClick={() => setOpen(true)} aria-label={PIECES.beginAt(station.name)}>
        {PIECES.begin}
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        aria-labelledby={`pieces-${station.id}`}
        fullWidth
        maxWidth="xs"
      >
        <DialogTitle id={`pieces-${station.id}`}>{PIECES.title(station.name)}</DialogTitle>
        <DialogContent>
          <Form station={station} onDone={() => setOpen(false)} />
        </DialogContent>
      </Dialog>
    </>
  );
}

function Form({ station, onDone }: { station: RoundStation; onDone: () => void }) {
  const { submit } = useOutbox();
  const [entry, setEntry] = useState(() => uuid());
  const [failure, setFailure] = useState<unknown>(null);
  const [typed, setTyped] = useState('');
  const count = async () => {
    const pieces = Number(typed);
    const outcome = await submit(
      { what: 'pieces', target: station.id, body: { device: device(), entry, pieces } },
      PIECES.waiting(station.name, pieces),
    );
    setEntry(uuid());
    if (outcome.kind === 'refused') setFailure(outcome.failure);
    else onDone();
  };
  return (
    <Stack
      component="form"
      spacing={1.5}
      onSubmit={(event) => {
        event.preventDefault();
        void count();
      }}
    >
      <Typography color="text.secondary">{PIECES.since}</Typography>
      <TextField
        label={PIECES.pieces}
        value={typed}
        autoFocus
        autoComplete="off"
        onChange={(event) => setTyped(event.target.value.replace(/\D/g, ''))}
        slotProps={{ htmlInput: { inputMode: 'numeric' } }}
      />
      <Failed why={failure} />
      <Button type="submit" variant="contained" disabled={typed === ''}>
        {PIECES.count}
      </Button>
    </Stack>
  );
}
