import { Box, Button, MenuItem, Paper, Stack, TextField, Typography } from '@mui/material';
import { useMutation } from '@tanstack/react-query';
import { useForm, useWatch } from 'react-hook-form';
import { answered, api } from '../../api/client';
import { usePerson } from '../../session/session';
import { shareTerminal, useSharedTerminal } from '../../session/sharedTerminal';
import { chooseDensity, useChosenDensity } from '../../ui/density';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { Notice } from '../../ui/Notice';
import { PASSWORD } from '../../words/people';
import { ChoosePassword } from './ChoosePassword';
import { WishesPart } from './WishesPart';
import { ME, SECRETS } from '../../words/me';

const AFTER = [1, 2, 5, 10, 30];
const DENSITIES = ['compact', 'roomy'] as const;

/** One's own password, PIN and badge, and whether this device is shared. */
export default function MePage() {
  const person = usePerson();
  const shared = useSharedTerminal();
  const density = useChosenDensity();
  return (
    <Box sx={{ maxWidth: 560, mx: 'auto' }}>
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        {person.name}
      </Typography>
      <Stack spacing={1.5}>
        <Paper component="section" aria-label={ME.device} sx={{ p: 2.5 }}>
          <Typography variant="h2">{ME.device}</Typography>
          <TextField
            select
            label={ME.density}
            helperText={ME.entryIsRoomy}
            value={density ?? 'device'}
            onChange={(event) => chooseDensity(DENSITIES.find((one) => one === event.target.value) ?? null)}
            sx={{ my: 2 }}
          >
            <MenuItem value="device">{ME.densities.device}</MenuItem>
            {DENSITIES.map((one) => (
              <MenuItem key={one} value={one}>
                {ME.densities[one]}
              </MenuItem>
            ))}
          </TextField>
          <Typography color="text.secondary" sx={{ mb: 2 }}>
            {ME.shared}
          </Typography>
          <TextField
            select
            label={ME.locks}
            value={shared ?? 0}
            onChange={(event) => shareTerminal(Number(event.target.value) || null)}
          >
            <MenuItem value={0}>{ME.never}</MenuItem>
            {AFTER.map((after) => (
              <MenuItem key={after} value={after}>
                {ME.after(after)}
              </MenuItem>
            ))}
          </TextField>
        </Paper>
        <Paper component="section" aria-label={PASSWORD.title} sx={{ p: 2.5 }}>
          <Typography variant="h2">{PASSWORD.title}</Typography>
          <ChoosePassword />
        </Paper>
        <WishesPart />
        <Secret kind="pin" set={(password, pin) => answered(api.PUT('/api/me/pin', { body: { password, pin } }))} />
        <Secret
          kind="badge"
          set={(password, badge) => answered(api.PUT('/api/me/badge', { body: { password, badge } }))}
        />
      </Stack>
    </Box>
  );
}

function Secret({
  kind,
  set,
}: {
  kind: keyof typeof SECRETS;
  set: (password: string, secret: string) => Promise<unknown>;
}) {
  const words = SECRETS[kind];
  const { control, handleSubmit, reset } = useForm({ defaultValues: { secret: '', password: '' } });
  const [secret, password] = useWatch({ control, name: ['secret', 'password'] });
  const keep = useMutation({
    mutationFn: (given: { secret: string; password: string }) => set(given.password, given.secret),
    onSuccess: () => reset(),
  });
  const submit = handleSubmit((given) => keep.mutate(given));
  return (
    <Paper component="section" aria-label={words.title} sx={{ p: 2.5 }}>
      <Stack component="form" spacing={1.5} onSubmit={(event) => void submit(event)}>
        <Typography variant="h2">{words.title}</Typography>
        <TextInput
          control={control}
          name="secret"
          type="password"
          label={words.label}
          help={words.help}
          keys={kind === 'pin' ? 'numeric' : 'text'}
        />
        <TextInput
          control={control}
          name="password"
          type="password"
          label={ME.password}
          autoComplete="current-password"
        />
        <Failed why={keep.error} />
        {keep.isSuccess && <Notice kind="settled">{words.done}</Notice>}
        <Button
          type="submit"
          variant="outlined"
          disabled={secret === '' || password === '' || keep.isPending}
          sx={{ alignSelf: 'start' }}
        >
          {words.set}
        </Button>
      </Stack>
    </Paper>
  );
}
