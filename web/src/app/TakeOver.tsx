import { Button, Stack, Typography } from '@mui/material';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import type { Shown, TerminalPerson } from '../api/client';
import { useAccess } from '../session/session';
import { Failed } from '../ui/Failed';
import { TextInput } from '../ui/fields';
import { SIGN_IN } from '../words/app';

/** Takes a shared terminal over: a badge on the reader, or a name and its PIN. */
export function TakeOver({ people, onPassword }: { people: readonly TerminalPerson[]; onPassword: () => void }) {
  const { takeOver } = useAccess();
  const [person, setPerson] = useState<TerminalPerson | null>(null);
  const { control, handleSubmit, reset } = useForm({ defaultValues: { secret: '' } });
  const secret = useWatch({ control, name: 'secret' });
  const taking = useMutation({ mutationFn: (shown: Shown) => takeOver(shown), onError: () => reset() });
  const choose = (chosen: TerminalPerson | null) => {
    setPerson(chosen);
    reset();
    taking.reset();
  };
  const submit = handleSubmit(({ secret: shown }) => {
    if (shown !== '') taking.mutate(person ? { person: person.id, pin: shown } : { badge: shown });
  });
  return (
    <Stack component="form" spacing={1.5} onSubmit={(event) => void submit(event)}>
      {person === null ? (
        people.map((one) => (
          <Button
            key={one.id}
            variant="outlined"
            color="inherit"
            sx={{ minHeight: 56 }}
            onClick={() => (one.has_pin ? choose(one) : onPassword())}
          >
            {one.name}
          </Button>
        ))
      ) : (
        <Typography variant="h2">{person.name}</Typography>
      )}
      <TextInput
        key={person?.id ?? 'badge'}
        control={control}
        name="secret"
        autoFocus
        type="password"
        label={person ? SIGN_IN.pin : SIGN_IN.badge}
        help={person ? undefined : SIGN_IN.holdBadge}
        keys={person ? 'numeric' : 'text'}
      />
      <Failed why={taking.error} />
      {person && (
        <Button type="submit" variant="contained" disabled={secret === '' || taking.isPending}>
          {SIGN_IN.goOn}
        </Button>
      )}
      <Stack direction="row" spacing={1}>
        {person && (
          <Button color="inherit" onClick={() => choose(null)}>
            {SIGN_IN.somebodyElse}
          </Button>
        )}
        <Button color="inherit" onClick={onPassword}>
          {SIGN_IN.byPassword}
        </Button>
      </Stack>
    </Stack>
  );
}
