import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { useMutation } from '@tanstack/react-query';
import { useForm, useWatch } from 'react-hook-form';
import { useAccess } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { Notice } from '../../ui/Notice';
import { FRAME } from '../../words/app';
import { PASSWORD } from '../../words/people';

/** A password of one's own, typed twice since nobody sees it. */
export function ChoosePassword() {
  const { choosePassword } = useAccess();
  const { control, handleSubmit, reset, setError } = useForm({ defaultValues: { now: '', next: '', again: '' } });
  const typed = useWatch({ control });
  const choose = useMutation({
    mutationFn: ({ now, next }: { now: string; next: string }) => choosePassword(now, next),
    onSuccess: () => reset(),
  });
  const submit = handleSubmit((given) => {
    if (given.next !== given.again) setError('again', { message: PASSWORD.differ }, { shouldFocus: true });
    else choose.mutate(given);
  });
  const secret = (name: 'now' | 'next' | 'again', label: string, help?: string) => (
    <TextInput
      control={control}
      name={name}
      type="password"
      label={label}
      help={help}
      autoComplete={name === 'now' ? 'current-password' : 'new-password'}
    />
  );
  return (
    <Stack component="form" spacing={1.5} noValidate sx={{ mt: 1 }} onSubmit={(event) => void submit(event)}>
      {secret('now', PASSWORD.now)}
      {secret('next', PASSWORD.next, PASSWORD.help)}
      {secret('again', PASSWORD.again)}
      <Failed why={choose.error} />
      {choose.isSuccess && <Notice kind="settled">{PASSWORD.done}</Notice>}
      <Button
        type="submit"
        variant="outlined"
        disabled={[typed.now, typed.next, typed.again].includes('') || choose.isPending}
        sx={{ alignSelf: 'start', minHeight: 48 }}
      >
        {PASSWORD.set}
      </Button>
    </Stack>
  );
}

/** What somebody sees first whose password was made for them. */
export function FirstPasswordPage() {
  const { signOut } = useAccess();
  return (
    <Box component="main" sx={{ minHeight: '100vh', display: 'grid', placeItems: 'center', p: 2 }}>
      <Paper sx={{ p: 4, width: 460, maxWidth: '100%' }}>
        <Typography variant="h1" sx={{ mb: 0.5 }}>
          {PASSWORD.first}
        </Typography>
        <Typography color="text.secondary" sx={{ mb: 1 }}>
          {PASSWORD.firstAbout}
        </Typography>
        <ChoosePassword />
        <Button color="inherit" sx={{ mt: 2 }} onClick={() => void signOut()}>
          {FRAME.signOut}
        </Button>
      </Paper>
    </Box>
  );
}
