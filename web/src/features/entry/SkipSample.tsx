import { Button, Stack } from '@mui/material';
import { useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { useForm, useWatch } from 'react-hook-form';
import { v4 as uuid } from 'uuid';
import { device } from '../../device/id';
import { useOutbox } from '../../outbox/Outbox';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { SKIP } from '../../words/entry';

interface Skipping {
  characteristic: string;
  name: string;
  onSkipped: () => void;
}

/** Skips a sample that cannot be taken, with the reason: a gap on the chart. */
export function SkipSample(skipping: Skipping) {
  const [open, setOpen] = useState(false);
  const opener = useRef<HTMLButtonElement>(null);
  const back = () => {
    flushSync(() => setOpen(false));
    opener.current?.focus();
  };
  if (open) return <Form {...skipping} onBack={back} />;
  return (
    <Button ref={opener} color="inherit" sx={{ alignSelf: 'start', minHeight: 48 }} onClick={() => setOpen(true)}>
      {SKIP.begin}
    </Button>
  );
}

function Form({ characteristic, name, onSkipped, onBack }: Skipping & { onBack: () => void }) {
  const { submit } = useOutbox();
  const [entry] = useState(() => uuid());
  const [failure, setFailure] = useState<unknown>(null);
  const { control, handleSubmit } = useForm({ defaultValues: { because: '' } });
  const reason = useWatch({ control, name: 'because' });
  const skip = handleSubmit(async ({ because }) => {
    const outcome = await submit(
      { what: 'gap', target: characteristic, body: { device: device(), entry, because } },
      SKIP.waiting(name, because),
    );
    if (outcome.kind === 'refused') setFailure(outcome.failure);
    else onSkipped();
  });
  return (
    <Stack
      component="form"
      aria-label={SKIP.title}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onBack();
      }}
      spacing={1}
      onSubmit={(event) => void skip(event)}
    >
      <TextInput control={control} name="because" label={SKIP.why} autoFocus size="small" />
      <Failed why={failure} />
      <Stack direction="row" spacing={1}>
        <Button type="submit" variant="outlined" color="inherit" disabled={reason.trim() === ''}>
          {SKIP.skip}
        </Button>
        <Button color="inherit" onClick={onBack}>
          {SKIP.back}
        </Button>
      </Stack>
    </Stack>
  );
}
