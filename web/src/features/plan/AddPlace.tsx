import { Button, Dialog, DialogContent, DialogTitle, Stack } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { answered, api, type Plan } from '../../api/client';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { PLAN } from '../../words/setUpForm';
import { whyNot } from '../../words/setUp';

type Kind = 'station' | 'product';

/** Adds a station to an area, or a product. */
export function AddPlace({ kind, plan }: { kind: Kind; plan: Plan }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button color="inherit" variant="outlined" onClick={() => setOpen(true)}>
        {PLAN.add[kind]}
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby={`add-${kind}`} fullWidth maxWidth="xs">
        <DialogTitle id={`add-${kind}`}>{PLAN.add[kind]}</DialogTitle>
        <DialogContent>
          <Form kind={kind} plan={plan} onDone={() => setOpen(false)} />
        </DialogContent>
      </Dialog>
    </>
  );
}

function Form({ kind, plan, onDone }: { kind: Kind; plan: Plan; onDone: () => void }) {
  const client = useQueryClient();
  const { control, handleSubmit } = useForm({ defaultValues: { name: '', area: '' } });
  const [name, area] = useWatch({ control, name: ['name', 'area'] });
  const add = useMutation({
    mutationFn: async (place: { name: string; area: string }) => {
      await (kind === 'station'
        ? answered(api.POST('/api/plan/stations', { body: place }))
        : answered(api.POST('/api/plan/products', { body: { name: place.name } })));
      await touch(client, { kind: 'plan' });
      onDone();
    },
  });
  const submit = handleSubmit((place) => add.mutate(place));
  return (
    <Stack component="form" spacing={2} sx={{ pt: 1 }} onSubmit={(event) => void submit(event)}>
      <TextInput control={control} name="name" label={PLAN.name} autoFocus />
      {kind === 'station' && (
        <TextInput control={control} name="area" label={PLAN.area} help={PLAN.existingOrNew} list="areas" />
      )}
      <datalist id="areas">
        {plan.areas.map((known) => (
          <option key={known.id} value={known.name} />
        ))}
      </datalist>
      <Failed why={add.error} say={whyNot} />
      <Button
        type="submit"
        variant="contained"
        disabled={add.isPending || name.trim() === '' || (kind === 'station' && area.trim() === '')}
      >
        {PLAN.addIt}
      </Button>
    </Stack>
  );
}
