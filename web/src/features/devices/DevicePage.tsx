import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { useNavigate, useParams } from 'react-router';
import { answered, api, type Bench, type DeviceView, type Plan } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { Select, TextInput } from '../../ui/fields';
import { Empty, Loaded } from '../../ui/States';
import { DEVICE, doesWhat, KINDS } from '../../words/devices';
import { LOADING } from '../../words/setUpForm';
import { whyNot } from '../../words/setUp';
import { ConnectionPart } from './ConnectionPart';
import { DisplayPart } from './DisplayPart';
import { FolderPart } from './FolderPart';
import { BLANK, type DeviceForm, formOf, isComplete, linkOf } from './deviceForm';
import { Token } from './Token';

/** Sets a device up, or changes one that is. */
export default function DevicePage() {
  const { id } = useParams();
  const plan = useQuery(queries.plan);
  const benches = useQuery(queries.lab);
  const devices = useQuery({ ...queries.devices, enabled: id !== undefined });
  const form = (places: Plan, device: DeviceView | null) => (
    <Form key={device?.id} plan={places} benches={benches.data ?? []} device={device} />
  );
  return (
    <Loaded query={plan} what={LOADING.plan}>
      {(places) =>
        id === undefined ? (
          form(places, null)
        ) : (
          <Loaded query={devices} what={DEVICE.theDevice}>
            {(all) => {
              const device = all.find((d) => d.id === id && d.revoked_at == null);
              return device ? form(places, device) : <Empty>{DEVICE.gone}</Empty>;
            }}
          </Loaded>
        )
      }
    </Loaded>
  );
}

function Form({ plan, benches, device }: { plan: Plan; benches: Bench[]; device: DeviceView | null }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  // The version that is changed is the one that was seen, however often the list is asked for meanwhile.
  const [seen] = useState(device);
  const { control, handleSubmit } = useForm<DeviceForm>({ defaultValues: seen ? formOf(seen) : BLANK });
  const form = useWatch({ control }) as DeviceForm;
  const keep = useMutation({
    mutationFn: async (fields: DeviceForm) => {
      const body = { name: fields.name, stations: fields.stations, link: linkOf(fields) };
      let token: string | null = null;
      if (seen)
        await answered(
          api.PUT('/api/plan/devices/{id}', {
            params: { path: { id: seen.id } },
            body: { version: seen.version, device: body },
          }),
        );
      else token = (await answered(api.POST('/api/plan/devices', { body }))).token ?? null;
      await touch(client, { kind: 'plan' });
      if (token === null) void navigate('/plan/devices');
      return token;
    },
  });
  const submit = handleSubmit((fields) => keep.mutate(fields));
  if (keep.data != null)
    return <Token name={form.name} kind={form.kind} token={keep.data} onDone={() => void navigate('/plan/devices')} />;
  return (
    <Box sx={{ maxWidth: 820, mx: 'auto' }}>
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        {seen ? seen.name : DEVICE.title}
      </Typography>
      <Stack component="form" spacing={2} onSubmit={(event) => void submit(event)}>
        <Paper component="section" aria-label={DEVICE.device} sx={{ p: 2 }}>
          <Stack spacing={2}>
            <TextInput control={control} name="name" label={DEVICE.name} help={doesWhat(form.kind).named} />
            <Select
              control={control}
              name="kind"
              label={DEVICE.how}
              disabled={seen !== null}
              options={Object.entries(KINDS)}
            />
            <Select
              control={control}
              name="stations"
              label={doesWhat(form.kind).stations}
              several
              options={plan.stations.map((s) => [s.id, `${s.name} · ${s.area}`])}
            />
          </Stack>
        </Paper>
        {form.kind === 'display' && <DisplayPart control={control} />}
        {form.kind === 'folder' && <FolderPart control={control} form={form} plan={plan} />}
        {(form.kind === 'gauge' || form.kind === 'analyser' || form.kind === 'sensor') && (
          <ConnectionPart control={control} form={form} plan={plan} benches={benches} />
        )}
        <Failed why={keep.error} say={whyNot} />
        <Button
          type="submit"
          variant="contained"
          disabled={!isComplete(form) || keep.isPending}
          sx={{ alignSelf: 'start' }}
        >
          {seen ? DEVICE.keep : DEVICE.setUp}
        </Button>
      </Stack>
    </Box>
  );
}
