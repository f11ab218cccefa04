import { Button, Dialog, DialogContent, DialogTitle, Stack, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { v4 as uuid } from 'uuid';
import type { RoundStation } from '../../api/client';
import { device } from '../../device/id';
import { useOutbox } from '../../outbox/Outbox';
import { Notice } from '../../ui/Notice';
import { sentenceFor } from '../../words/failures';

/** Tells how many pieces were made, where samples are due by their number. */
export function CountPieces({ station }: { station: RoundStation }) {
  const { submit } = useOutbox();
  const [entry, setEntry] = useState(() => uuid());
  const [pieces, setPieces] = useState<string | null>(null);
  const [failure, setFailure] = useState<unknown>(null);
  const close = () => {
    setPieces(null);
    setFailure(null);
  };
  const count = async () => {
    const outcome = await submit({ what: 'pieces', target: station.id, body: { device: device(), entry, pieces: Number(pieces) } }, `${station.name}: ${pieces ?? ''} pieces made`);
    setEntry(uuid());
    if (outcome.kind === 'refused') setFailure(outcome.failure);
    else close();
  };
  return (
    <>
      <Button size="small" color="inherit" onClick={() => setPieces('')} aria-label={`Count pieces made at ${station.name}`}>
        Count pieces
      </Button>
      <Dialog open={pieces !== null} onClose={close} aria-labelledby={`pieces-${station.id}`} fullWidth maxWidth="xs">
        <DialogTitle id={`pieces-${station.id}`}>Pieces made at {station.name}</DialogTitle>
        <DialogContent>
          <Stack component="form" spacing={1.5} onSubmit={(event) => { event.preventDefault(); void count(); }}>
            <Typography color="text.secondary">How many since they were last counted.</Typography>
            <TextField
              autoFocus
              label="Pieces"
              value={pieces ?? ''}
              onChange={(event) => setPieces(event.target.value.replace(/\D/g, ''))}
              slotProps={{ htmlInput: { inputMode: 'numeric', autoComplete: 'off' } }}
            />
            {failure != null && <Notice kind="problem">{sentenceFor(failure)}</Notice>}
            <Button type="submit" variant="contained" disabled={!pieces}>Count them</Button>
          </Stack>
        </DialogContent>
      </Dialog>
    </>
  );
}
