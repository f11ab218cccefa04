import { Box, Paper, Stack, Typography } from '@mui/material';
import type { Control } from 'react-hook-form';
import type { Bench, Plan } from '../../api/client';
import { Select, TextInput, Tick } from '../../ui/fields';
import { DEVICE } from '../../words/devices';
import type { DeviceForm } from './deviceForm';

interface Part {
  control: Control<DeviceForm>;
  form: DeviceForm;
}

/** How a device is reached, and what it means by what it sends. */
export function ConnectionPart({ control, form, plan, benches }: Part & { plan: Plan; benches: readonly Bench[] }) {
  return (
    <Paper component="section" aria-label={DEVICE.connection} sx={{ p: 2 }}>
      <Stack spacing={2}>
        {form.kind === 'sensor' ? (
          <SensorPart control={control} form={form} plan={plan} />
        ) : (
          <>
            <Select control={control} name="opens" label={DEVICE.whoOpens} options={Object.entries(DEVICE.opens)} />
            <TextInput control={control} name="at" label={DEVICE.address} help={DEVICE.addressHelp[form.opens]} />
          </>
        )}
        {form.kind === 'analyser' && (
          <Mapping control={control} benches={benches.filter((b) => form.stations.includes(b.station))} />
        )}
      </Stack>
    </Paper>
  );
}

function SensorPart({ control, form, plan }: Part & { plan: Plan }) {
  const measured = plan.characteristics.filter(
    (c) => c.kind === 'measured' && c.analyte == null && form.stations.includes(c.station_id),
  );
  return (
    <>
      <TextInput control={control} name="broker" label={DEVICE.broker} help={DEVICE.brokerHelp} />
      <TextInput control={control} name="topic" label={DEVICE.topic} />
      <Select
        control={control}
        name="characteristic"
        label={DEVICE.characteristic}
        options={measured.map((c) => [c.id, `${c.name} · ${c.product} · ${c.station}`])}
        help={form.stations.length === 0 ? DEVICE.stationsFirst : ' '}
      />
      <Typography color="text.secondary">{DEVICE.payload}</Typography>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr 1fr', sm: 'repeat(4, 1fr)' } }}>
        <TextInput control={control} name="value" label={DEVICE.value} />
        <TextInput control={control} name="unit" label={DEVICE.unit} />
        <TextInput control={control} name="time" label={DEVICE.time} />
        <TextInput control={control} name="id" label={DEVICE.id} />
      </Box>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 160px' } }}>
        <Select control={control} name="make" label={DEVICE.whatBecomes} options={Object.entries(DEVICE.make)} />
        <TextInput control={control} name="count" label={DEVICE.count[form.make]} keys="numeric" />
      </Box>
      <Tick control={control} name="round" label={DEVICE.round} />
    </>
  );
}

/** Which specimen and test of an analyser means which level. */
function Mapping({ control, benches }: { control: Control<DeviceForm>; benches: readonly Bench[] }) {
  const levels = benches.flatMap((b) =>
    b.analytes.flatMap((a) => a.levels.map((l) => ({ id: l.characteristic, name: `${a.name}, ${l.name}` }))),
  );
  return (
    <Box>
      <Typography color="text.secondary" sx={{ mb: 1 }}>
        {levels.length === 0 ? DEVICE.noLevels : DEVICE.mapping}
      </Typography>
      <Stack spacing={1}>
        {levels.map(({ id, name }) => (
          <Box
            key={id}
            role="group"
            aria-label={name}
            sx={{ display: 'grid', gap: 1.5, alignItems: 'center', gridTemplateColumns: '1fr 1fr 1fr' }}
          >
            <span>{name}</span>
            <TextInput control={control} name={`results.${id}.specimen`} size="small" label={DEVICE.specimen} />
            <TextInput control={control} name={`results.${id}.test`} size="small" label={DEVICE.test} />
          </Box>
        ))}
      </Stack>
    </Box>
  );
}
