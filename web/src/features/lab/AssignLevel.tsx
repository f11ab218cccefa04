import { Button, Dialog, DialogContent, DialogTitle, Stack, TextField, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type LevelFigures } from '../../api/client';
import { touch } from '../../api/touches';
import { Notice } from '../../ui/Notice';
import { sentenceFor } from '../../words/failures';
import { figure, numberOf } from '../../words/numbers';

/** Gives a level another mean and sd, as with a new control lot; its own accepted results stand there to begin with. */
export function AssignLevel({ row }: { row: LevelFigures }) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [mean, setMean] = useState('');
  const [sd, setSd] = useState('');
  const [failure, setFailure] = useState<unknown>(null);
  const begin = () => {
    setName('');
    setMean(figure(row.cumulative.mean, row.decimals + 1));
    setSd(figure(row.cumulative.sd, row.decimals + 2));
    setFailure(null);
    setOpen(true);
  };
  const assign = async () => {
    try {
      const assigned = { mean: numberOf(mean), sd: numberOf(sd) };
      await answered(api.POST('/api/plan/levels/{id}/assigned', { params: { path: { id: row.characteristic } }, body: { name, assigned } }));
      await touch(client, { kind: 'limits', characteristic: row.characteristic });
      setOpen(false);
    } catch (error) {
      setFailure(error);
    }
  };
  const what = `${row.analyte}, ${row.level}`;
  return (
    <>
      <Button size="small" color="inherit" onClick={begin} aria-label={`Assign mean and sd of ${what}`}>Assign …</Button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="assign" fullWidth maxWidth="xs">
        <DialogTitle id="assign">Mean and sd of {what}</DialogTitle>
        <DialogContent>
          <Stack component="form" spacing={2} sx={{ pt: 1 }} onSubmit={(event) => { event.preventDefault(); void assign(); }}>
            <Typography color="text.secondary">They hold from now on; results before stay judged as they were. What stands here is of its own accepted results with reagent lot {row.reagent_lot ?? '–'}.</Typography>
            <TextField autoFocus label="Name, such as the control lot" value={name} onChange={(event) => setName(event.target.value)} slotProps={{ htmlInput: { maxLength: 80 } }} />
            <TextField label="Mean" value={mean} onChange={(event) => setMean(event.target.value)} slotProps={{ htmlInput: { inputMode: 'decimal' } }} />
            <TextField label="sd" value={sd} onChange={(event) => setSd(event.target.value)} slotProps={{ htmlInput: { inputMode: 'decimal' } }} />
            {failure != null && <Notice kind="problem">{sentenceFor(failure)}</Notice>}
            <Button type="submit" variant="contained" disabled={name.trim() === '' || !Number.isFinite(numberOf(mean)) || !(numberOf(sd) > 0)}>Assign them</Button>
          </Stack>
        </DialogContent>
      </Dialog>
    </>
  );
}
