import { Button, Stack, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import type { TerminalPerson, Shown } from '../api/client';
import { Notice } from '../ui/Notice';
import { sentenceFor } from '../words/failures';
import { useAccess } from '../session/session';

/** Takes a shared terminal over: a badge on the reader, or a name and its PIN. */
export function TakeOver({ people, onPassword }: { people: readonly TerminalPerson[]; onPassword: () => void }) {
  const { takeOver } = useAccess();
  const [person, setPerson] = useState<TerminalPerson | null>(null);
  const [text, setText] = useState('');
  const [failure, setFailure] = useState<unknown>(null);
  const choose = (chosen: TerminalPerson | null) => {
    setPerson(chosen);
    setText('');
    setFailure(null);
  };
  const show = async (shown: Shown) => {
    setFailure(null);
    try {
      await takeOver(shown);
    } catch (error) {
      setFailure(error);
      setText('');
    }
  };
  return (
    <Stack
      component="form"
      spacing={1.5}
      onSubmit={(event) => {
        event.preventDefault();
        if (text !== '') void show(person ? { person: person.id, pin: text } : { badge: text });
      }}
    >
      {person === null ? (
        people.map((one) => (
          <Button key={one.id} variant="outlined" color="inherit" sx={{ minHeight: 56 }} onClick={() => (one.has_pin ? choose(one) : onPassword())}>
            {one.name}
          </Button>
        ))
      ) : (
        <Typography variant="h2">{person.name}</Typography>
      )}
      <TextField
        key={person?.id ?? 'badge'}
        autoFocus
        type="password"
        label={person ? 'PIN' : 'Badge'}
        value={text}
        onChange={(event) => setText(event.target.value)}
        helperText={person ? undefined : 'Hold the badge to the reader, or choose a name.'}
        slotProps={{ htmlInput: { inputMode: person ? 'numeric' : 'text', autoComplete: 'off' } }}
      />
      {failure != null && <Notice kind="problem">{sentenceFor(failure)}</Notice>}
      {person && <Button type="submit" variant="contained" disabled={text === ''}>Go on</Button>}
      <Stack direction="row" spacing={1}>
        {person && <Button color="inherit" onClick={() => choose(null)}>Somebody else</Button>}
        <Button color="inherit" onClick={onPassword}>Name and password</Button>
      </Stack>
    </Stack>
  );
}
