import { Button, Dialog, DialogContent, DialogTitle, Stack, TextField, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Station } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { sentenceFor } from '../../words/failures';

/** Tells how many pieces were made, where samples are due by their number. */
export function CountPieces({ station }: { station: Station }) {
  const client = useQueryClient();
  const [pieces, setPieces] = useState<string | null>(null);
  const [failure, setFailure] = useState<unknown>(null);
  const close = () => {
    setPieces(null);
    setFailure(null);
  };
  const count = async () => {
    try {
      await answered(api.POST('/api/stations/{id}/pieces', { params: { path: { id: station.id } }, body: { pieces: Number(pieces) } }));
      await client.invalidateQueries({ queryKey: ['rounds'] });
      close();
    } catch (error) {
      setFailure(error);
    }
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
