import { Button, Dialog, DialogContent, DialogTitle, Stack, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { answered, api, type LevelFigures } from '../../api/client';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { FIGURES } from '../../words/levels';
import { figure, numberOf } from '../../words/numbers';
import { RUN_ENTRY } from '../../words/run';

/** Gives a level another mean and sd, as with a new control lot; its own accepted results stand there to begin with. */
export function AssignLevel({ row }: { row: LevelFigures }) {
  const [open, setOpen] = useState(false);
  const what = RUN_ENTRY.level(row.analyte, row.level);
  return (
    <>
      <Button size="small" color="inherit" onClick={() => setOpen(true)} aria-label={FIGURES.assignOf(what)}>
        {FIGURES.assign}
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="assign" fullWidth maxWidth="xs">
        <DialogTitle id="assign">{FIGURES.assignTitle(what)}</DialogTitle>
        <DialogContent>
          <Form row={row} onDone={() => setOpen(false)} />
        </DialogContent>
      </Dialog>
    </>
  );
}

function Form({
  row: { characteristic, cumulative, decimals, reagent_lot: lot },
  onDone,
}: {
  row: LevelFigures;
  onDone: () => void;
}) {
  const client = useQueryClient();
  const { control, handleSubmit } = useForm({
    defaultValues: { name: '', mean: figure(cumulative.mean, decimals + 1), sd: figure(cumulative.sd, decimals + 2) },
  });
  const [name, mean, sd] = useWatch({ control, name: ['name', 'mean', 'sd'] });
  const assign = useMutation({
    mutationFn: async (given: { name: string; mean: string; sd: string }) => {
      const assigned = { mean: numberOf(given.mean), sd: numberOf(given.sd) };
      await answered(
        api.POST('/api/plan/levels/{id}/assigned', {
          params: { path: { id: characteristic } },
          body: { name: given.name, assigned },
        }),
      );
      await touch(client, { kind: 'limits', characteristic });
      onDone();
    },
  });
  const submit = handleSubmit((given) => assign.mutate(given));
  const complete = name.trim() !== '' && Number.isFinite(numberOf(mean)) && numberOf(sd) > 0;
  return (
    <Stack component="form" spacing={2} sx={{ pt: 1 }} onSubmit={(event) => void submit(event)}>
      <Typography color="text.secondary">{FIGURES.holdFromNow(lot ?? '–')}</Typography>
      <TextInput control={control} name="name" autoFocus label={FIGURES.name} longest={80} />
      <TextInput control={control} name="mean" label={FIGURES.mean} keys="decimal" />
      <TextInput control={control} name="sd" label={FIGURES.sd} keys="decimal" />
      <Failed why={assign.error} />
      <Button type="submit" variant="contained" disabled={!complete || assign.isPending}>
        {FIGURES.assignThem}
      </Button>
    </Stack>
  );
}
