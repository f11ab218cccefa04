import { Button, Stack, Typography } from '@mui/material';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { ToLookAt } from '../../api/client';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { eventName, keptInWords, LOOK, lookInWords } from '../../words/look';
import { useLimitsChange } from '../points';

/** What the points since say of limits in force, and what an engineer does about it. */
export function Look({ look }: { look: ToLookAt }) {
  const mayLimit = useMay('set_limits');
  const change = useLimitsChange(look.characteristic, look.version);
  const [keeping, setKeeping] = useState(false);
  const { proposed, proposed_number: number, since, event } = look;
  return (
    <Stack spacing={1} sx={{ alignItems: 'flex-start' }}>
      <Typography>{lookInWords(look)}</Typography>
      {look.kept && <Typography color="text.secondary">{keptInWords(look.kept)}</Typography>}
      {mayLimit && !keeping && (
        <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap' }}>
          {proposed != null && number != null && since != null && (
            <Button
              variant="outlined"
              disabled={change.isPending}
              onClick={() =>
                change.mutate({
                  change: 'start_phase',
                  sample: proposed,
                  name: LOOK.phaseName(since),
                  limits: { with: 'trial' },
                })
              }
            >
              {LOOK.begin(number)}
            </Button>
          )}
          {event && (
            <>
              <Button
                variant="outlined"
                disabled={change.isPending}
                onClick={() =>
                  change.mutate({
                    change: 'start_phase',
                    sample: event.sample,
                    name: eventName(event),
                    limits: { with: 'trial' },
                  })
                }
              >
                {LOOK.beginWith(event.number)}
              </Button>
              <Button
                color="inherit"
                variant="outlined"
                disabled={change.isPending}
                onClick={() => change.mutate({ change: 'decline', event: event.id })}
              >
                {LOOK.decline}
              </Button>
            </>
          )}
          {(look.look != null || look.next_look != null || look.kept != null) && (
            <Button color="inherit" variant="outlined" onClick={() => setKeeping(true)}>
              {LOOK.keep}
            </Button>
          )}
        </Stack>
      )}
      {keeping && <Keep look={look} onBack={() => setKeeping(false)} />}
      <Failed why={change.error} />
    </Stack>
  );
}

/** Limits are kept, with why and until when. */
function Keep({ look, onBack }: { look: ToLookAt; onBack: () => void }) {
  const change = useLimitsChange(look.characteristic, look.version);
  const { control, handleSubmit, setError } = useForm({ defaultValues: { reason: '', until: '' } });
  const submit = handleSubmit(({ reason, until }) => {
    if (reason.trim() === '') setError('reason', { message: LOOK.sayWhy }, { shouldFocus: true });
    else if (until === '') setError('until', { message: LOOK.sayUntil }, { shouldFocus: true });
    else change.mutate({ change: 'keep', phase: look.phase, reason: reason.trim(), until }, { onSuccess: onBack });
  });
  return (
    <Stack
      component="form"
      noValidate
      aria-label={LOOK.do}
      spacing={1}
      sx={{ width: '100%', maxWidth: 520 }}
      onSubmit={(event) => void submit(event)}
    >
      <TextInput control={control} name="reason" label={LOOK.why} multiline autoFocus />
      <TextInput control={control} name="until" label={LOOK.until} type="date" />
      <Failed why={change.error} />
      <Stack direction="row" spacing={1}>
        <Button type="submit" variant="contained" disabled={change.isPending}>
          {LOOK.do}
        </Button>
        <Button color="inherit" onClick={onBack}>
          {LOOK.back}
        </Button>
      </Stack>
    </Stack>
  );
}
