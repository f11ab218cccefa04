import { Button, Checkbox, FormControlLabel, Paper, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type NoticeKind, type WishesView } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { Loaded } from '../../ui/States';
import { NOTICE_KINDS, WISHES } from '../../words/notices';

/** Which notices are sent by mail to who is signed in. */
export function WishesPart() {
  const look = useMay('look');
  const query = useQuery({ ...queries.wishes, enabled: look });
  if (!look) return null;
  return (
    <Paper component="section" aria-label={WISHES.title} sx={{ p: 2.5 }}>
      <Typography variant="h2">{WISHES.title}</Typography>
      <Typography color="text.secondary" sx={{ mb: 1 }}>
        {WISHES.about}
      </Typography>
      <Loaded query={query} what={WISHES.title}>
        {(now) => (now.offered.length === 0 ? null : <Choice now={now} />)}
      </Loaded>
    </Paper>
  );
}

function Choice({ now }: { now: WishesView }) {
  const client = useQueryClient();
  const [email, setEmail] = useState(now.email ?? '');
  const [kinds, setKinds] = useState<readonly NoticeKind[]>(now.kinds);
  const keep = useMutation({
    mutationFn: async () => {
      await answered(
        api.PUT('/api/me/wishes', { body: { email: email.trim() === '' ? null : email.trim(), kinds: [...kinds] } }),
      );
      await client.invalidateQueries({ queryKey: queries.wishes.queryKey });
    },
  });
  return (
    <Stack
      component="form"
      noValidate
      spacing={0.5}
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      {!now.sends_mail && <Notice kind="caution">{WISHES.noMail}</Notice>}
      <TextField
        label={WISHES.email}
        type="email"
        autoComplete="email"
        value={email}
        slotProps={{ htmlInput: { maxLength: 254 } }}
        onChange={(event) => setEmail(event.target.value)}
      />
      {now.offered.map((kind) => (
        <FormControlLabel
          key={kind}
          label={NOTICE_KINDS[kind]}
          control={
            <Checkbox
              checked={kinds.includes(kind)}
              onChange={(_, on) => setKinds(on ? [...kinds, kind] : kinds.filter((other) => other !== kind))}
            />
          }
        />
      ))}
      <Failed why={keep.error} />
      {keep.isSuccess && <Notice kind="settled">{WISHES.kept}</Notice>}
      <Button type="submit" variant="outlined" disabled={keep.isPending} sx={{ alignSelf: 'start', minHeight: 48 }}>
        {WISHES.keep}
      </Button>
    </Stack>
  );
}
