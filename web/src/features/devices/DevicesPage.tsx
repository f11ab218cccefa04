import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { answered, api, type DeviceView } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { Empty, Loaded } from '../../ui/States';
import { countsInWords, DEVICES, doesWhat, heardInWords, linkInWords, reasonInWords } from '../../words/devices';
import { when } from '../../words/time';

/** Every device: whether it is heard, what it sent, what was refused and why. */
export default function DevicesPage() {
  const query = useQuery(queries.devices);
  return (
    <Box sx={{ maxWidth: 1080, mx: 'auto' }}>
      <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center', mb: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {DEVICES.title}
        </Typography>
        <Link component={RouterLink} to="/plan" sx={{ minHeight: 48, display: 'inline-flex', alignItems: 'center' }}>
          {DEVICES.characteristics}
        </Link>
        <Button component={RouterLink} to="/plan/devices/new" variant="contained">
          {DEVICES.setUp}
        </Button>
      </Stack>
      <Loaded query={query} what={DEVICES.devices}>
        {(devices) =>
          devices.length === 0 ? (
            <Empty>{DEVICES.nothing}</Empty>
          ) : (
            <Stack spacing={1.5}>
              {devices.map((device) => (
                <Device key={device.id} device={device} />
              ))}
            </Stack>
          )
        }
      </Loaded>
    </Box>
  );
}

function Device({ device }: { device: DeviceView }) {
  const silent = device.silent_since != null;
  return (
    <Paper component="section" aria-label={device.name} sx={{ p: 2 }}>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography variant="h2" sx={{ flex: 1, color: device.revoked_at ? 'text.secondary' : 'text.primary' }}>
          {device.name}
        </Typography>
        <Box
          component="span"
          role="status"
          sx={(theme) => ({
            fontWeight: 650,
            color: silent
              ? theme.palette.warning.main
              : device.heard_at && !device.revoked_at
                ? theme.palette.settled
                : theme.palette.text.secondary,
          })}
        >
          {heardInWords(device)}
        </Box>
      </Stack>
      <Typography color="text.secondary">
        {device.stations.map((s) => s.name).join(', ')} · {linkInWords(device)}
      </Typography>
      {doesWhat(device.link.kind).counts && <Typography sx={{ mt: 0.5 }}>{countsInWords(device)}</Typography>}
      {device.refusals.length > 0 && (
        <Box
          component="table"
          aria-label={DEVICES.refusedOf(device.name)}
          sx={{
            mt: 1,
            width: '100%',
            borderCollapse: 'collapse',
            '& th': { textAlign: 'left', fontWeight: 400, color: 'text.secondary' },
            '& td, & th': { py: 0.5, pr: 2, verticalAlign: 'top' },
          }}
        >
          <thead>
            <tr>
              {DEVICES.columns.map((column) => (
                <th key={column} scope="col">
                  {column}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {device.refusals.map((r) => (
              <tr key={r.reason}>
                <td>{reasonInWords(r.reason)}</td>
                <Box component="td" sx={{ fontVariantNumeric: 'tabular-nums' }}>
                  {r.count}
                </Box>
                <td>{when(r.last_at)}</td>
                <Box component="td" sx={{ overflowWrap: 'anywhere', fontFamily: 'monospace', fontSize: '0.85rem' }}>
                  {r.last}
                </Box>
              </tr>
            ))}
          </tbody>
        </Box>
      )}
      {!device.revoked_at && (
        <Stack direction="row" sx={{ mt: 1, gap: 1, alignItems: 'center', flexWrap: 'wrap' }}>
          <Button
            component={RouterLink}
            to={`/plan/devices/${device.id}`}
            color="inherit"
            aria-label={DEVICES.changeOf(device.name)}
          >
            {DEVICES.change}
          </Button>
          <Revoke device={device} />
        </Stack>
      )}
    </Paper>
  );
}

function Revoke({ device }: { device: DeviceView }) {
  const client = useQueryClient();
  const [asked, setAsked] = useState(false);
  const revoke = useMutation({
    mutationFn: async () => {
      await answered(api.POST('/api/plan/devices/{id}/revocation', { params: { path: { id: device.id } } }));
      await touch(client, { kind: 'plan' });
    },
  });
  return (
    <Box>
      <Failed why={revoke.error} />
      {asked ? (
        <>
          <Typography component="span" sx={{ mr: 1.5 }}>
            {doesWhat(device.link.kind).revoked}
          </Typography>
          <Button
            autoFocus
            color="error"
            variant="outlined"
            disabled={revoke.isPending}
            onClick={() => revoke.mutate()}
          >
            {DEVICES.revoke(device.name)}
          </Button>
          <Button color="inherit" onClick={() => setAsked(false)}>
            {DEVICES.back}
          </Button>
        </>
      ) : (
        <Button color="inherit" onClick={() => setAsked(true)} aria-label={DEVICES.beginRevokeOf(device.name)}>
          {DEVICES.beginRevoke}
        </Button>
      )}
    </Box>
  );
}
