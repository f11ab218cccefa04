import { Box, Button, MenuItem, Paper, Stack, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { answered, api } from '../../api/client';
import { usePerson } from '../../session/session';
import { shareTerminal, useSharedTerminal } from '../../session/sharedTerminal';
import { Notice } from '../../ui/Notice';
import { sentenceFor } from '../../words/failures';

const AFTER = [1, 2, 5, 10, 30];

/** One's own PIN and badge, and whether this device is shared. */
export function MePage() {
  const person = usePerson();
  const shared = useSharedTerminal();
  return (
    <Box sx={{ maxWidth: 560, mx: 'auto' }}>
      <Typography variant="h1" sx={{ mb: 1.5 }}>{person.name}</Typography>
      <Stack spacing={1.5}>
        <Paper component="section" aria-label="This device" sx={{ p: 2.5 }}>
          <Typography variant="h2">This device</Typography>
          <Typography color="text.secondary" sx={{ mb: 2 }}>
            A device that several people share locks when nobody touches it. Whoever signed in here once by password unlocks it by PIN or badge.
          </Typography>
          <TextField select label="Locks" value={shared ?? 0} onChange={(event) => shareTerminal(Number(event.target.value) || null)}>
            <MenuItem value={0}>Never: it is used by one person</MenuItem>
            {AFTER.map((after) => (
              <MenuItem key={after} value={after}>After {after === 1 ? 'a minute' : `${after} minutes`} without a touch</MenuItem>
            ))}
          </TextField>
        </Paper>
        <Secret what="PIN" help="4 to 8 digits, for devices that several people share." numeric set={(password, pin) => answered(api.PUT('/api/me/pin', { body: { password, pin } }))} />
        <Secret what="Badge" help="The number as the reader reads it: 8 to 32 letters and digits." set={(password, badge) => answered(api.PUT('/api/me/badge', { body: { password, badge } }))} />
      </Stack>
    </Box>
  );
}

function Secret({ what, help, numeric, set }: {
  what: string;
  help: string;
  numeric?: boolean;
  set: (password: string, secret: string) => Promise<unknown>;
}) {
  const [secret, setSecret] = useState('');
  const [password, setPassword] = useState('');
  const [failure, setFailure] = useState<unknown>(null);
  const [done, setDone] = useState(false);
  const keep = async () => {
    setFailure(null);
    setDone(false);
    try {
      await set(password, secret);
      setDone(true);
      setSecret('');
      setPassword('');
    } catch (error) {
      setFailure(error);
    }
  };
  return (
    <Paper component="section" aria-label={what} sx={{ p: 2.5 }}>
      <Stack component="form" spacing={1.5} onSubmit={(event) => { event.preventDefault(); void keep(); }}>
        <Typography variant="h2">{what}</Typography>
        <TextField
          label={`New ${what}`}
          type="password"
          value={secret}
          helperText={help}
          onChange={(event) => setSecret(event.target.value)}
          slotProps={{ htmlInput: { inputMode: numeric ? 'numeric' : 'text', autoComplete: 'off' } }}
        />
        <TextField
          label="Your password"
          type="password"
          value={password}
          onChange={(event) => setPassword(event.target.value)}
          slotProps={{ htmlInput: { autoComplete: 'current-password' } }}
        />
        {failure != null && <Notice kind="problem">{sentenceFor(failure)}</Notice>}
        {done && <Notice kind="settled">The {what} is set.</Notice>}
        <Button type="submit" variant="outlined" disabled={secret === '' || password === ''} sx={{ alignSelf: 'start' }}>Set the {what}</Button>
      </Stack>
    </Paper>
  );
}
