import { Box, Button, Checkbox, FormControlLabel, MenuItem, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { answered, api, type Bench, type DeviceView, type Plan } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { Empty, Loaded } from '../../ui/States';
import { KINDS } from '../../words/devices';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { setUpSentence } from '../../words/setUp';
import { BLANK, formOfLink, isComplete, type LinkForm, linkOf } from './linkForm';

/** Sets a device up, or changes one that is. */
export default function DevicePage() {
  const { id } = useParams();
  const plan = useQuery(queries.plan);
  const benches = useQuery(queries.lab);
  const devices = useQuery({ ...queries.devices, enabled: id !== undefined });
  if (id === undefined) return <Loaded query={plan} what="the plan">{(data) => <Form plan={data} benches={benches.data ?? []} device={null} />}</Loaded>;
  return (
    <Loaded query={plan} what="the plan">
      {(data) => (
        <Loaded query={devices} what="the device">
          {(all) => {
            const device = all.find((d) => d.id === id && d.revoked_at == null);
            return device ? <Form key={device.id} plan={data} benches={benches.data ?? []} device={device} /> : <Empty>There is no such device any more.</Empty>;
          }}
        </Loaded>
      )}
    </Loaded>
  );
}

function Form({ plan, benches, device }: { plan: Plan; benches: Bench[]; device: DeviceView | null }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  // The version that is changed is the one that was seen, however often the list is asked for meanwhile.
  const [seen] = useState(device);
  const [name, setName] = useState(seen?.name ?? '');
  const [stations, setStations] = useState<string[]>(seen?.stations.map((s) => s.id) ?? []);
  const [form, setForm] = useState<LinkForm>(() => (seen ? formOfLink(seen.link) : BLANK));
  const [failure, setFailure] = useState<unknown>(null);
  const [token, setToken] = useState<string | null>(null);
  const change = (part: Partial<LinkForm>) => setForm((before) => ({ ...before, ...part }));
  const keep = async () => {
    setFailure(null);
    const body = { name, stations, link: linkOf(form) };
    try {
      let token: string | null = null;
      if (seen) await answered(api.PUT('/api/plan/devices/{id}', { params: { path: { id: seen.id } }, body: { version: seen.version, device: body } }));
      else token = (await answered(api.POST('/api/plan/devices', { body }))).token ?? null;
      await touch(client, { kind: 'plan' });
      if (token === null) void navigate('/plan/devices');
      else setToken(token);
    } catch (error) {
      setFailure(error);
    }
  };
  if (token !== null) return <Token name={name} token={token} onDone={() => void navigate('/plan/devices')} />;
  return (
    <Box sx={{ maxWidth: 820, mx: 'auto' }}>
      <Typography variant="h1" sx={{ mb: 1.5 }}>{seen ? seen.name : 'Set up a device'}</Typography>
      <Stack component="form" spacing={2} onSubmit={(event) => { event.preventDefault(); void keep(); }}>
        <Paper component="section" aria-label="Device" sx={{ p: 2 }}>
          <Stack spacing={2}>
            <TextField label="Name" value={name} onChange={(event) => setName(event.target.value)} helperText="It stands on the points that the device sends." />
            <TextField select label="How it sends" value={form.kind} disabled={seen !== null} onChange={(event) => change({ kind: event.target.value as LinkForm['kind'] })}>
              {Object.entries(KINDS).map(([kind, words]) => <MenuItem key={kind} value={kind}>{words}</MenuItem>)}
            </TextField>
            <TextField
              select
              label="Stations it sends for"
              value={stations}
              onChange={(event) => setStations(event.target.value as unknown as string[])}
              slotProps={{ select: { multiple: true } }}
            >
              {plan.stations.map((s) => <MenuItem key={s.id} value={s.id}>{s.name} · {s.area}</MenuItem>)}
            </TextField>
          </Stack>
        </Paper>
        {form.kind !== 'ingest' && (
          <Paper component="section" aria-label="Connection" sx={{ p: 2 }}>
            <Stack spacing={2}>
              {form.kind === 'sensor' ? (
                <SensorPart form={form} plan={plan} stations={stations} change={change} />
              ) : (
                <>
                  <TextField select label="Who opens the connection" value={form.opens} onChange={(event) => change({ opens: event.target.value as LinkForm['opens'] })}>
                    <MenuItem value="server">Nuvek, to the device</MenuItem>
                    <MenuItem value="device">The device, to Nuvek</MenuItem>
                  </TextField>
                  <TextField label="Address" value={form.at} onChange={(event) => change({ at: event.target.value })} helperText={form.opens === 'server' ? 'Of the device, as 192.0.2.7:4001' : 'To listen at, as 0.0.0.0:4002'} />
                </>
              )}
              {form.kind === 'analyser' && <Mapping form={form} benches={benches.filter((b) => stations.includes(b.station))} change={change} />}
            </Stack>
          </Paper>
        )}
        {failure != null && <Notice kind="problem">{setUpSentence(failure)}</Notice>}
        <Button type="submit" variant="contained" disabled={name.trim() === '' || stations.length === 0 || !isComplete(form)} sx={{ alignSelf: 'start' }}>{seen ? 'Keep the change' : 'Set it up'}</Button>
      </Stack>
    </Box>
  );
}

interface Part {
  form: LinkForm;
  change: (part: Partial<LinkForm>) => void;
}

function SensorPart({ form, plan, stations, change }: Part & { plan: Plan; stations: string[] }) {
  const measured = plan.characteristics.filter((c) => c.kind === 'measured' && c.analyte == null && stations.includes(c.station_id));
  return (
    <>
      <TextField label="Broker" value={form.broker} onChange={(event) => change({ broker: event.target.value })} helperText="Host and port, as 192.0.2.9:1883" />
      <TextField label="Topic" value={form.topic} onChange={(event) => change({ topic: event.target.value })} />
      <TextField select label="Characteristic" value={form.characteristic} onChange={(event) => change({ characteristic: event.target.value })} helperText={stations.length === 0 ? 'Choose its stations first.' : ' '}>
        {measured.map((c) => <MenuItem key={c.id} value={c.id}>{c.name} · {c.product} · {c.station}</MenuItem>)}
      </TextField>
      <Typography color="text.secondary">Where the JSON payload holds what, as JSON pointers; only the value is needed.</Typography>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr 1fr', sm: 'repeat(4, 1fr)' } }}>
        <TextField label="Value" value={form.value} onChange={(event) => change({ value: event.target.value })} />
        <TextField label="Unit" value={form.unit} onChange={(event) => change({ unit: event.target.value })} />
        <TextField label="Time" value={form.time} onChange={(event) => change({ time: event.target.value })} />
        <TextField label="Id of the message" value={form.id} onChange={(event) => change({ id: event.target.value })} />
      </Box>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 160px' } }}>
        <TextField select label="What becomes a reading" value={form.make} onChange={(event) => change({ make: event.target.value as LinkForm['make'] })}>
          <MenuItem value="every">One of so many values</MenuItem>
          <MenuItem value="bucket">The mean of so many seconds</MenuItem>
        </TextField>
        <TextField label={form.make === 'every' ? 'Values' : 'Seconds'} value={form.count} onChange={(event) => change({ count: event.target.value })} slotProps={{ htmlInput: { inputMode: 'numeric' } }} />
      </Box>
      <FormControlLabel control={<Checkbox checked={form.round} onChange={(_, round) => change({ round })} />} label="Round its values to the decimals of the unit; more decimals are refused otherwise" />
    </>
  );
}

function Mapping({ form, benches, change }: Part & { benches: Bench[] }) {
  const levels = benches.flatMap((b) => b.analytes.flatMap((a) => a.levels.map((l) => ({ id: l.characteristic, name: `${a.name}, ${l.name}` }))));
  const map = (id: string, part: { specimen?: string; test?: string }) =>
    change({ results: { ...form.results, [id]: { specimen: '', test: '', ...form.results[id], ...part } } });
  return (
    <Box>
      <Typography color="text.secondary" sx={{ mb: 1 }}>
        {levels.length === 0 ? 'Choose a station of the laboratory with analytes.' : 'Which specimen and test of the analyser means which level; blanks are left out.'}
      </Typography>
      <Stack spacing={1}>
        {levels.map(({ id, name }) => (
          <Box key={id} role="group" aria-label={name} sx={{ display: 'grid', gap: 1.5, alignItems: 'center', gridTemplateColumns: '1fr 1fr 1fr' }}>
            <span>{name}</span>
            <TextField size="small" label="Specimen" value={form.results[id]?.specimen ?? ''} onChange={(event) => map(id, { specimen: event.target.value })} />
            <TextField size="small" label="Test" value={form.results[id]?.test ?? ''} onChange={(event) => map(id, { test: event.target.value })} />
          </Box>
        ))}
      </Stack>
    </Box>
  );
}

/** The token, this once. */
function Token({ name, token, onDone }: { name: string; token: string; onDone: () => void }) {
  return (
    <Box sx={{ maxWidth: 820, mx: 'auto' }}>
      <Typography variant="h1" sx={{ mb: 1.5 }}>Token of {name}</Typography>
      <Paper component="section" aria-label="Token" sx={{ p: 2 }}>
        <Notice kind="caution">It is shown this once and not kept. Whoever has it can send samples for its stations; revoking the device ends that.</Notice>
        <TextField fullWidth label="Token" value={token} sx={{ my: 2 }} slotProps={{ htmlInput: { readOnly: true, style: { fontFamily: 'monospace' }, onFocus: (event: React.FocusEvent<HTMLInputElement>) => event.currentTarget.select() } }} />
        <Typography color="text.secondary" sx={{ mb: 2 }}>It goes with each request as <code>Authorization: Bearer …</code> to <code>/api/ingest</code>.</Typography>
        <Button variant="contained" onClick={onDone}>It is copied</Button>
      </Paper>
    </Box>
  );
}
