import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate, useParams } from 'react-router';
import { answered, api, type Bench, type PeerGroupView } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { TextInput, Tick } from '../../ui/fields';
import { Empty, Loaded } from '../../ui/States';
import { LAB } from '../../words/lab';
import { PEER_FORM, PEERS } from '../../words/peers';
import { RUN_ENTRY } from '../../words/run';
import { dayOf, momentOf } from '../../words/time';

/** Setting a peer group up, and changing one. */
export default function PeerGroupPage() {
  const { group: id } = useParams();
  const groups = useQuery(queries.peers);
  const benches = useQuery(queries.lab);
  return (
    <Box sx={{ maxWidth: 760, mx: 'auto' }}>
      <Loaded query={groups} what={PEERS.what}>
        {(all) => (
          <Loaded query={benches} what={LAB.laboratory}>
            {(measured) => {
              const of = all.find((one) => one.id === id);
              if (id !== undefined && of === undefined) return <Empty>{PEERS.none}</Empty>;
              return <Form key={of && `${of.id} ${of.version}`} of={of} benches={measured} />;
            }}
          </Loaded>
        )}
      </Loaded>
    </Box>
  );
}

function Form({ of, benches }: { of: PeerGroupView | undefined; benches: Bench[] }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const levels = benches.flatMap(({ analytes }) =>
    analytes.flatMap((analyte) =>
      analyte.levels.map((level) => ({
        id: level.characteristic,
        name: RUN_ENTRY.level(analyte.name, level.name),
      })),
    ),
  );
  const codeOf = (id: string) => of?.levels.find(({ characteristic }) => characteristic === id)?.code ?? '';
  const [today] = useState(() => dayOf(Date.now()));
  const { control, handleSubmit } = useForm({
    defaultValues: {
      name: of?.name ?? '',
      laboratory: of?.laboratory ?? '',
      url: of?.url ?? '',
      token: '',
      since: of ? dayOf(of.since) : today,
      active: of?.active ?? true,
      codes: levels.map(({ id }) => ({ code: codeOf(id) })),
    },
  });
  const back = of ? `/lab/peers/${of.id}` : '/lab/peers';
  const keep = useMutation({
    mutationFn: async ({ name, laboratory, url, token, since, active, codes }: Typed) => {
      // The day stands for its beginning; a group that is changed keeps its moment while the day stays.
      const from = of && dayOf(of.since) === since ? of.since : momentOf(`${since}T00:00`);
      const group = {
        name,
        laboratory,
        url: url.trim() === '' ? null : url,
        since: from ?? new Date().toISOString(),
        active,
        levels: levels.flatMap(({ id }, i) => {
          const code = codes[i]?.code.trim() ?? '';
          return code === '' ? [] : [{ characteristic: id, code }];
        }),
      };
      const body = { version: of?.version ?? 0, group, token: token === '' ? null : token };
      if (of) await answered(api.PUT('/api/peers/{id}', { params: { path: { id: of.id } }, body }));
      const id = of?.id ?? (await answered(api.POST('/api/peers', { body }))).id;
      await touch(client, { kind: 'peers', group: id });
      return id;
    },
    onSuccess: (id) => navigate(`/lab/peers/${id}`),
  });
  return (
    <>
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        {of ? PEER_FORM.titleOf(of.name) : PEER_FORM.title}
      </Typography>
      <Paper sx={{ p: 2 }}>
        <Stack
          component="form"
          noValidate
          spacing={2}
          onSubmit={(event) => void handleSubmit((typed) => keep.mutate(typed))(event)}
        >
          <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
            <TextInput control={control} name="name" label={PEER_FORM.name} longest={80} autoFocus />
            <TextInput control={control} name="laboratory" label={PEER_FORM.laboratory} longest={80} />
            <TextInput control={control} name="url" label={PEER_FORM.url} help={PEER_FORM.urlHelp} longest={2000} />
            <TextInput
              control={control}
              name="token"
              label={PEER_FORM.token}
              help={of?.url == null ? PEER_FORM.tokenNew : PEER_FORM.tokenKept}
              type="password"
              autoComplete="new-password"
              longest={500}
            />
            <TextInput control={control} name="since" label={PEER_FORM.since} type="date" />
          </Box>
          <Box component="fieldset" sx={{ border: 0, m: 0, p: 0 }}>
            <Typography component="legend" variant="h2">
              {PEER_FORM.levels}
            </Typography>
            <Typography color="text.secondary" sx={{ mb: 1.5 }}>
              {PEER_FORM.levelsHelp}
            </Typography>
            <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
              {levels.map(({ id, name }, i) => (
                <TextInput key={id} control={control} name={`codes.${i}.code`} label={name} longest={80} />
              ))}
            </Box>
          </Box>
          <Tick control={control} name="active" label={PEER_FORM.active} />
          <Failed why={keep.error} />
          <Stack direction="row" sx={{ gap: 1 }}>
            <Button type="submit" variant="contained" disabled={keep.isPending}>
              {PEER_FORM.keep}
            </Button>
            <Button color="inherit" onClick={() => void navigate(back)}>
              {PEER_FORM.leave}
            </Button>
          </Stack>
        </Stack>
      </Paper>
    </>
  );
}

interface Typed {
  name: string;
  laboratory: string;
  url: string;
  token: string;
  since: string;
  active: boolean;
  codes: { code: string }[];
}
