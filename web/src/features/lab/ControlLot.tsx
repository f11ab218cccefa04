import { Button, Dialog, DialogContent, DialogTitle, Stack, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { answered, api, type LevelFigures } from '../../api/client';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { LOT } from '../../words/levels';
import { RUN_ENTRY } from '../../words/run';

/** A new control lot beside a level: begun by its name, until it takes over with figures of its own. */
export function ControlLot({ row, station, beside }: { row: LevelFigures; station: string; beside: boolean }) {
  if (row.beside != null) return <TakeOver row={row} station={station} />;
  return beside ? null : <Begin row={row} station={station} />;
}

/** What a change of lots changes on the screen. */
function useLot(station: string, deed: (lot: string) => Promise<unknown>, onDone?: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (lot: string) => {
      await deed(lot);
      await Promise.all([touch(client, { kind: 'plan' }), touch(client, { kind: 'run', station })]);
      onDone?.();
    },
  });
}

function Begin({ row, station }: { row: LevelFigures; station: string }) {
  const [open, setOpen] = useState(false);
  const what = RUN_ENTRY.level(row.analyte, row.level);
  const path = { id: row.characteristic };
  const begin = useLot(
    station,
    (lot) => answered(api.POST('/api/plan/levels/{id}/lots', { params: { path }, body: { lot } })),
    () => setOpen(false),
  );
  const { control, handleSubmit, setError } = useForm({ defaultValues: { lot: '' } });
  const submit = handleSubmit(({ lot }) => {
    if (lot.trim() === '') setError('lot', { message: LOT.sayName }, { shouldFocus: true });
    else begin.mutate(lot.trim());
  });
  return (
    <>
      <Button size="small" color="inherit" onClick={() => setOpen(true)} aria-label={LOT.beginOf(what)}>
        {LOT.begin}
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="begin-lot" fullWidth maxWidth="xs">
        <DialogTitle id="begin-lot">{LOT.beginOf(what)}</DialogTitle>
        <DialogContent>
          <Stack component="form" noValidate spacing={2} sx={{ pt: 1 }} onSubmit={(event) => void submit(event)}>
            <Typography color="text.secondary">{LOT.about}</Typography>
            <TextInput control={control} name="lot" autoFocus label={LOT.name} longest={80} />
            <Failed why={begin.error} />
            <Button type="submit" variant="contained" disabled={begin.isPending}>
              {LOT.doBegin}
            </Button>
          </Stack>
        </DialogContent>
      </Dialog>
    </>
  );
}

function TakeOver({ row, station }: { row: LevelFigures; station: string }) {
  const path = { id: row.characteristic };
  const takeOver = useLot(station, () => answered(api.POST('/api/plan/lots/{id}/take-over', { params: { path } })));
  return (
    <>
      <Button
        size="small"
        color="inherit"
        disabled={takeOver.isPending}
        onClick={() => takeOver.mutate('')}
        aria-label={LOT.takeOverOf(RUN_ENTRY.level(row.analyte, row.level))}
      >
        {LOT.takeOver}
      </Button>
      <Failed why={takeOver.error} />
    </>
  );
}
