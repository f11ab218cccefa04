import { Button, Stack, TextField } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { v4 as uuid } from 'uuid';
import { answered, api } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { sentenceFor } from '../../words/failures';
import { device } from './draft';

/** Skips a sample that cannot be taken, with the reason: a gap on the chart. */
export function SkipSample({ characteristic, onSkipped }: { characteristic: string; onSkipped: () => void }) {
  const client = useQueryClient();
  const [entry] = useState(() => uuid());
  const [because, setBecause] = useState<string | null>(null);
  const [failure, setFailure] = useState<unknown>(null);
  const skip = async () => {
    try {
      const body = { device: device(), entry, because: because ?? '' };
      await answered(api.POST('/api/characteristics/{id}/gaps', { params: { path: { id: characteristic } }, body }));
      await client.invalidateQueries();
      onSkipped();
    } catch (error) {
      setFailure(error);
    }
  };
  if (because === null) {
    return (
      <Button color="inherit" sx={{ alignSelf: 'start' }} onClick={() => setBecause('')}>
        Skip this sample …
      </Button>
    );
  }
  return (
    <Stack
      component="form"
      aria-label="Skip this sample"
      spacing={1}
      onSubmit={(event) => {
        event.preventDefault();
        void skip();
      }}
    >
      <TextField autoFocus size="small" label="Why none is taken" value={because} onChange={(event) => setBecause(event.target.value)} />
      {failure != null && <Notice kind="problem">{sentenceFor(failure)}</Notice>}
      <Stack direction="row" spacing={1}>
        <Button type="submit" variant="outlined" color="inherit" disabled={because.trim() === ''}>Skip it</Button>
        <Button color="inherit" onClick={() => setBecause(null)}>Leave it</Button>
      </Stack>
    </Stack>
  );
}
