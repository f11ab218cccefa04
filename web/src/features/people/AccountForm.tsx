import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useForm, useWatch } from 'react-hook-form';
import { type Account, type AccountView, answered, api, type Plan } from '../../api/client';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import { Select, TextInput, Tick } from '../../ui/fields';
import { PEOPLE, ROLE_DOES, ROLES } from '../../words/people';
import type { Given } from './given';

type Part = keyof typeof ROLE_DOES;
const PARTS = Object.keys(ROLE_DOES) as Part[];

/** What is said of a person: of a new one also the name to sign in with. */
export function AccountForm({
  of,
  plan,
  onGiven,
  onDone,
}: {
  of?: AccountView;
  plan: Plan;
  onGiven: (given: Given) => void;
  onDone: () => void;
}) {
  const client = useQueryClient();
  const { control, handleSubmit } = useForm({
    defaultValues: {
      login: of?.login ?? '',
      name: of?.name ?? '',
      role: of?.role ?? 'technician',
      areas: of?.areas ?? [],
      stations: of?.stations ?? [],
      bound: of?.bound ?? false,
    },
  });
  const { role, areas, stations, name, login } = useWatch({ control });
  const keep = useMutation({
    mutationFn: async ({ login, ...account }: Account & { login: string }) => {
      if (of) {
        const params = { params: { path: { id: of.id } } };
        await answered(api.PUT('/api/accounts/{id}', { ...params, body: { version: of.version, account } }));
      } else {
        const { password } = await answered(api.POST('/api/accounts', { body: { login, account } }));
        onGiven({ name: account.name, password });
      }
      await client.invalidateQueries({ queryKey: queries.accounts.queryKey });
    },
    onSuccess: onDone,
  });
  const nowhere = areas?.length === 0 && stations?.length === 0;
  const submit = handleSubmit(({ bound, stations, ...given }) => {
    const reader = given.role === 'reader';
    // What the form does not show at this role is not sent.
    keep.mutate({
      ...given,
      stations: reader ? [] : stations,
      bound: bound && given.role === 'technician' && !nowhere,
    });
  });
  const place = ({ id, name }: { id: string; name: string }) => [id, name] as const;
  return (
    <Paper component="section" aria-label={of ? PEOPLE.of(of.name) : PEOPLE.add} sx={{ p: 2 }}>
      <Stack component="form" spacing={2} onSubmit={(event) => void submit(event)}>
        <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
          <TextInput control={control} name="name" label={PEOPLE.name} longest={80} autoFocus />
          {!of && <TextInput control={control} name="login" label={PEOPLE.login} longest={80} />}
          <Select
            control={control}
            name="role"
            label={PEOPLE.role}
            help={ROLE_DOES[role as Part]}
            options={PARTS.map((part) => [part, ROLES[part]] as const)}
          />
        </Box>
        <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
          <Select control={control} name="areas" label={PEOPLE.areas} several options={plan.areas.map(place)} />
          {role !== 'reader' && (
            <Select
              control={control}
              name="stations"
              label={PEOPLE.stations}
              several
              options={plan.stations.map(place)}
            />
          )}
        </Box>
        <Typography color="text.secondary">
          {role === 'reader' ? PEOPLE.reads : nowhere ? PEOPLE.nowhere : PEOPLE.narrows}
        </Typography>
        {role === 'technician' && !nowhere && <Tick control={control} name="bound" label={PEOPLE.bound} />}
        <Failed why={keep.error} />
        <Stack direction="row" sx={{ gap: 1 }}>
          <Button
            type="submit"
            variant="contained"
            disabled={keep.isPending || name?.trim() === '' || login?.trim() === ''}
          >
            {PEOPLE.keep}
          </Button>
          <Button color="inherit" onClick={onDone}>
            {PEOPLE.leave}
          </Button>
        </Stack>
      </Stack>
    </Paper>
  );
}
