import { Button, Stack, TextField } from '@mui/material';
import { useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { v4 as uuid } from 'uuid';
import { device } from '../../device/id';
import { useOutbox } from '../../outbox/Outbox';
import { Notice } from '../../ui/Notice';
import { sentenceFor } from '../../words/failures';

/** Skips a sample that cannot be taken, with the reason: a gap on the chart. */
export function SkipSample({ characteristic, name, onSkipped }: { characteristic: string; name: string; onSkipped: () => void }) {
  const { submit } = useOutbox();
  const [entry] = useState(() => uuid());
  const [because, setBecause] = useState<string | null>(null);
  const [failure, setFailure] = useState<unknown>(null);
  const skip = async (because: string) => {
    const body = { device: device(), entry, because };
    const outcome = await submit({ what: 'gap', target: characteristic, body }, `${name}: ${because}`);
    if (outcome.kind === 'refused') setFailure(outcome.failure);
    else onSkipped();
  };
  const opener = useRef<HTMLButtonElement>(null);
  const back = () => {
    flushSync(() => setBecause(null));
    opener.current?.focus();
  };
  if (because === null) {
    return (
      <Button ref={opener} color="inherit" sx={{ alignSelf: 'start', minHeight: 48 }} onClick={() => setBecause('')}>
        Skip this sample …
      </Button>
    );
  }
  return (
    <Stack
      component="form"
      aria-label="Skip this sample"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        back();
      }}
      spacing={1}
      onSubmit={(event) => {
        event.preventDefault();
        void skip(because);
      }}
    >
      <TextField autoFocus size="small" label="Why none is taken" value={because} onChange={(event) => setBecause(event.target.value)} />
      {failure != null && <Notice kind="problem">{sentenceFor(failure)}</Notice>}
      <Stack direction="row" spacing={1}>
        <Button type="submit" variant="outlined" color="inherit" disabled={because.trim() === ''}>Skip it</Button>
        <Button color="inherit" onClick={back}>Back</Button>
      </Stack>
    </Stack>
  );
}
