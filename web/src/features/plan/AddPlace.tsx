import { Button, Dialog, DialogContent, DialogTitle, Stack, TextField } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Plan } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { planSentence } from './wrong';

/** Adds a station to an area, or a product. */
export function AddPlace({ what, plan }: { what: 'station' | 'product'; plan: Plan }) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [area, setArea] = useState('');
  const [failure, setFailure] = useState<unknown>(null);
  const close = () => {
    setOpen(false);
    setName('');
    setFailure(null);
  };
  const add = async () => {
    try {
      await (what === 'station'
        ? answered(api.POST('/api/plan/stations', { body: { area, name } }))
        : answered(api.POST('/api/plan/products', { body: { name } })));
      await client.invalidateQueries();
      close();
    } catch (error) {
      setFailure(error);
    }
  };
  return (
    <>
      <Button color="inherit" variant="outlined" onClick={() => setOpen(true)}>Add a {what}</Button>
      <Dialog open={open} onClose={close} aria-labelledby={`add-${what}`} fullWidth maxWidth="xs">
        <DialogTitle id={`add-${what}`}>Add a {what}</DialogTitle>
        <DialogContent>
          <Stack component="form" spacing={2} sx={{ pt: 1 }} onSubmit={(event) => { event.preventDefault(); void add(); }}>
            <TextField autoFocus label="Name" value={name} onChange={(event) => setName(event.target.value)} />
            {what === 'station' && (
              <TextField
                label="Area"
                value={area}
                onChange={(event) => setArea(event.target.value)}
                helperText="One that exists, or a new one."
                slotProps={{ htmlInput: { list: 'areas', autoComplete: 'off' } }}
              />
            )}
            <datalist id="areas">{plan.areas.map((known) => <option key={known.id} value={known.name} />)}</datalist>
            {failure != null && <Notice kind="problem">{planSentence(failure)}</Notice>}
            <Button type="submit" variant="contained" disabled={name.trim() === '' || (what === 'station' && area.trim() === '')}>Add it</Button>
          </Stack>
        </DialogContent>
      </Dialog>
    </>
  );
}
