import { Box, Button, Checkbox, Paper, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answered, api, type Unsigned } from '../../api/client';
import { isFailure } from '../../api/failure';
import { queries } from '../../api/queries';
import { useMay, usePerson } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { Empty, Loaded } from '../../ui/States';
import { SIGN } from '../../words/signatures';
import { EPISODE } from '../../words/signalPages';
import { DecisionLine } from './DecisionLine';

/** A session of reviews ends with a signature under what was decided. */
export default function SignPage() {
  const mayReview = useMay('review_signal');
  const query = useQuery({ ...queries.unsigned, enabled: mayReview });
  if (!mayReview) return <Empty>{EPISODE.waitsForSupervisor}</Empty>;
  return (
    <Box sx={{ maxWidth: 900, mx: 'auto' }}>
      <Typography variant="h1">{SIGN.title}</Typography>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        {SIGN.about}
      </Typography>
      <Loaded query={query} what={SIGN.what}>
        {(unsigned) => (unsigned.length === 0 ? <Empty>{SIGN.nothing}</Empty> : <ToSign unsigned={unsigned} />)}
      </Loaded>
    </Box>
  );
}

function ToSign({ unsigned }: { unsigned: readonly Unsigned[] }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const person = usePerson();
  const hasPin = useQuery(queries.terminal).data?.some(({ id, has_pin: has }) => id === person.id && has) ?? false;
  const [left, setLeft] = useState<readonly string[]>([]);
  const [secret, setSecret] = useState('');
  const [byPassword, setByPassword] = useState(false);
  const pin = hasPin && !byPassword;
  const chosen = unsigned.filter(({ review }) => !left.includes(review));
  const sign = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/signatures', {
          body: {
            by: pin ? { pin: secret } : { password: secret },
            reviews: chosen.map(({ review, digest }) => ({ review, digest })),
          },
        }),
      ),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: queries.unsigned.queryKey });
      await client.invalidateQueries({ queryKey: queries.signatures.queryKey });
      void navigate(`/signals/signatures/${id}`);
    },
    onError: (error) => {
      setSecret('');
      if (isFailure(error, 'changed')) void client.invalidateQueries({ queryKey: queries.unsigned.queryKey });
    },
  });
  return (
    <Stack
      component="form"
      spacing={2}
      aria-label={SIGN.title}
      onSubmit={(event) => {
        event.preventDefault();
        sign.mutate();
      }}
    >
      <Paper component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {unsigned.map((decision) => (
          <Stack
            key={decision.review}
            component="li"
            direction="row"
            sx={{ p: 1, gap: 1, borderTop: 1, borderColor: 'divider', '&:first-of-type': { borderTop: 0 } }}
          >
            <Checkbox
              checked={!left.includes(decision.review)}
              slotProps={{ input: { 'aria-label': SIGN.tick(decision.episode.name) } }}
              sx={{ alignSelf: 'start' }}
              onChange={(_, on) =>
                setLeft((before) => (on ? before.filter((id) => id !== decision.review) : [...before, decision.review]))
              }
            />
            <DecisionLine {...decision} />
          </Stack>
        ))}
      </Paper>
      {isFailure(sign.error, 'changed') && <Notice kind="caution">{SIGN.changedMeanwhile}</Notice>}
      <Typography>{SIGN.meaning}</Typography>
      <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
        <TextField
          key={pin ? 'pin' : 'password'}
          type="password"
          fullWidth={false}
          label={pin ? SIGN.pin : SIGN.password}
          value={secret}
          autoComplete={pin ? 'off' : 'current-password'}
          slotProps={{ htmlInput: { inputMode: pin ? 'numeric' : 'text' } }}
          onChange={(event) => setSecret(event.target.value)}
        />
        <Button
          type="submit"
          variant="contained"
          sx={{ minHeight: 48 }}
          disabled={sign.isPending || secret === '' || chosen.length === 0}
        >
          {SIGN.toSign(chosen.length)}
        </Button>
        {hasPin && (
          <Button
            color="inherit"
            onClick={() => {
              setSecret('');
              setByPassword(pin);
            }}
          >
            {pin ? SIGN.withPassword : SIGN.withPin}
          </Button>
        )}
      </Stack>
      {!isFailure(sign.error, 'changed') && <Failed why={sign.error} />}
    </Stack>
  );
}
