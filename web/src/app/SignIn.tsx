import { Box, Button, Dialog, Paper, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { queries } from '../api/queries';
import { Failed } from '../ui/Failed';
import { Loading } from '../ui/States';
import { FRAME, SIGN_IN } from '../words/app';
import { useAccess } from '../session/session';
import { TakeOver } from './TakeOver';

function SignInForm({ login }: { login?: string }) {
  const { signIn } = useAccess();
  const { register, handleSubmit, formState } = useForm({ defaultValues: { login: login ?? '', password: '' } });
  const arriving = useMutation({
    mutationFn: ({ login, password }: { login: string; password: string }) => signIn(login.trim(), password),
  });
  const submit = handleSubmit((given) => arriving.mutate(given));
  const { errors } = formState;
  return (
    <Stack component="form" spacing={2} noValidate onSubmit={(event) => void submit(event)}>
      <TextField
        label={SIGN_IN.name}
        autoComplete="username"
        autoFocus={!login}
        error={Boolean(errors.login)}
        helperText={errors.login?.message}
        {...register('login', { validate: (text) => text.trim() !== '' || SIGN_IN.nameMissing })}
      />
      <TextField
        label={SIGN_IN.password}
        type="password"
        autoComplete="current-password"
        autoFocus={Boolean(login)}
        error={Boolean(errors.password)}
        helperText={errors.password?.message}
        {...register('password', { validate: (text) => text !== '' || SIGN_IN.passwordMissing })}
      />
      <Failed why={arriving.error} />
      <Button type="submit" variant="contained" disabled={arriving.isPending}>
        {SIGN_IN.signIn}
      </Button>
    </Stack>
  );
}

export function SignInPage() {
  return (
    <Box component="main" sx={{ minHeight: '100vh', display: 'grid', placeItems: 'center', p: 2 }}>
      <Paper sx={{ p: 4, width: 380, maxWidth: '100%' }}>
        <Stack direction="row" spacing={1.5} sx={{ alignItems: 'center', mb: 3 }}>
          <img src="/mark.svg" alt="" width={36} height={36} />
          <Typography variant="h1">{FRAME.name}</Typography>
        </Stack>
        <Arrive />
      </Paper>
    </Box>
  );
}

/** Over a screen that somebody left: who comes next? */
export function LockedPage() {
  return (
    <Box component="main" sx={{ minHeight: '100vh', display: 'grid', placeItems: 'center', p: 2 }}>
      <Paper sx={{ p: 4, width: 420, maxWidth: '100%' }}>
        <Typography variant="h1" sx={{ mb: 0.5 }}>
          {SIGN_IN.locked}
        </Typography>
        <Typography color="text.secondary" sx={{ mb: 2 }}>
          {SIGN_IN.kept}
        </Typography>
        <Arrive />
      </Paper>
    </Box>
  );
}

/** By PIN or badge for those whom the terminal knows, by name and password for everybody. */
function Arrive() {
  const known = useQuery(queries.terminal);
  const [byPassword, setByPassword] = useState(false);
  if (known.isPending) return <Loading what={SIGN_IN.whoIsKnown} />;
  const people = known.data ?? [];
  if (people.length === 0 || byPassword) return <SignInForm />;
  return <TakeOver people={people} onPassword={() => setByPassword(true)} />;
}

/** Asks who is there again, over what is on the screen, which stays as it is. */
export function SessionEnded({ login }: { login: string }) {
  return (
    <Dialog open aria-labelledby="session-ended" maxWidth="xs" fullWidth>
      <Box sx={{ p: 3 }}>
        <Typography id="session-ended" variant="h2" sx={{ mb: 1 }}>
          {SIGN_IN.ended}
        </Typography>
        <Typography sx={{ mb: 2 }}>{SIGN_IN.stillHere}</Typography>
        <SignInForm login={login} />
      </Box>
    </Dialog>
  );
}
