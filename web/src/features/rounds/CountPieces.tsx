import { Button, Dialog, DialogContent, DialogTitle } from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import type { RoundStation } from '../../api/client';
import { Loading } from '../../ui/States';
import { PIECES } from '../../words/rounds';
import { piecesForm } from './forms';

const PiecesForm = lazy(piecesForm);

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
          <Suspense fallback={<Loading what={PIECES.title(station.name)} />}>
            <PiecesForm station={station} onDone={() => setOpen(false)} />
          </Suspense>
        </DialogContent>
      </Dialog>
    </>
  );
}
