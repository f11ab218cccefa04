import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type KeyboardEvent, useEffect, useRef, useState } from 'react';
import { answered, api, type RunView } from '../../api/client';
import { touch } from '../../api/touches';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { sentenceFor } from '../../words/failures';
import { LAB, LAB_QUEUE } from '../../words/lab';
import { when } from '../../words/time';

const mark = ({ id, version }: RunView, remark: string | null) =>
  answered(api.POST('/api/runs/{id}/reviews', { params: { path: { id } }, body: { version, remark } }));

/** Marks a run as reviewed, where that is up to this person; by one key when it is its turn. */
export function MarkRun({
  run,
  bench,
  turn,
  onLater,
}: {
  run: RunView;
  bench: string;
  turn: boolean;
  onLater: () => void;
}) {
  const client = useQueryClient();
  const mayReview = useMay('review_signal');
  const [remark, setRemark] = useState('');
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    // Whoever types elsewhere goes on typing.
    if (turn && !(document.activeElement instanceof HTMLInputElement)) button.current?.focus();
  }, [turn]);
  const { station, reviewed, steps } = run;
  const step = useMutation({
    mutationFn: async () => {
      await mark(run, remark.trim() === '' ? null : remark.trim());
      await touch(client, { kind: 'run', station });
    },
  });
  if (reviewed) {
    return (
      <Typography color="text.secondary" sx={{ mt: 1 }}>
        {[LAB_QUEUE.by(reviewed.person, reviewed.at), reviewed.because].filter((part) => part != null).join(': ')}
      </Typography>
    );
  }
  if (!mayReview) return null;
  if (steps.review != null) {
    return (
      <Typography color="text.secondary" sx={{ mt: 1 }}>
        {steps.review === 'own_run' ? LAB_QUEUE.own : LAB_QUEUE.notYet}
      </Typography>
    );
  }
  const onKey = (event: KeyboardEvent) => {
    // A key that is held down decides once.
    if (event.repeat || event.ctrlKey || event.altKey || event.metaKey || step.isPending) return;
    const pressed = event.key.toUpperCase();
    if (pressed === LAB_QUEUE.markKey) step.mutate();
    else if (pressed === LAB_QUEUE.laterKey) onLater();
    else return;
    event.preventDefault();
  };
  return (
    <Stack
      component="form"
      direction="row"
      sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'center', mt: 1 }}
      onSubmit={(event) => {
        event.preventDefault();
        step.mutate();
      }}
    >
      <TextField
        size="small"
        label={LAB_QUEUE.remark}
        value={remark}
        sx={{ flex: 1, minWidth: 220 }}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
        onChange={(event) => setRemark(event.target.value)}
      />
      <Box
        role="group"
        aria-label={LAB_QUEUE.decide(run.number, bench)}
        sx={{ display: 'flex', gap: 1 }}
        onKeyDown={onKey}
      >
        <Button
          ref={button}
          type="submit"
          variant="contained"
          aria-label={LAB_QUEUE.markOf(run.number, bench)}
          aria-keyshortcuts={LAB_QUEUE.markKey}
          disabled={step.isPending}
        >
          {LAB_QUEUE.mark}&ensp;<kbd aria-hidden>{LAB_QUEUE.markKey}</kbd>
        </Button>
        {turn && (
          <Button type="button" color="inherit" aria-keyshortcuts={LAB_QUEUE.laterKey} onClick={onLater}>
            {LAB_QUEUE.later}&ensp;<kbd aria-hidden>{LAB_QUEUE.laterKey}</kbd>
          </Button>
        )}
      </Box>
      <Failed why={step.error} />
    </Stack>
  );
}

/** All runs that were accepted as they are, at once; they are listed before it is done. */
export function MarkMany({ runs }: { runs: readonly RunView[] }) {
  const client = useQueryClient();
  const [listed, setListed] = useState(false);
  const step = useMutation({
    mutationFn: async () => {
      const refused: { run: RunView; why: unknown }[] = [];
      // One after the other, so that what is refused hinders none of the others.
      for (const run of runs) await mark(run, null).catch((why: unknown) => refused.push({ run, why }));
      for (const station of new Set(runs.map((run) => run.station))) await touch(client, { kind: 'run', station });
      return refused;
    },
    onSuccess: () => setListed(false),
  });
  const refused = step.data ?? [];
  return (
    <>
      {refused.length > 0 && (
        <Notice kind="caution">
          {LAB_QUEUE.refused}
          <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
            {refused.map(({ run, why }) => (
              <li key={run.id}>
                {LAB.run(run.number)}: {sentenceFor(why)}
              </li>
            ))}
          </Box>
        </Notice>
      )}
      {runs.length > 1 && !listed && (
        <Button variant="outlined" color="inherit" sx={{ alignSelf: 'start' }} onClick={() => setListed(true)}>
          {LAB_QUEUE.many(runs.length)}
        </Button>
      )}
      {runs.length > 1 && listed && (
        <Paper component="section" aria-label={LAB_QUEUE.manyTitle} sx={{ p: 2 }}>
          <Typography variant="h3">{LAB_QUEUE.manyTitle}</Typography>
          <Box component="ul" sx={{ m: 0, my: 1, pl: 2.5, maxHeight: 180, overflowY: 'auto' }} tabIndex={0}>
            {runs.map((run) => (
              <li key={run.id}>
                {LAB.run(run.number)}, {when(run.taken_at)}, {run.person}
              </li>
            ))}
          </Box>
          <Stack direction="row" sx={{ gap: 1 }}>
            <Button variant="contained" disabled={step.isPending} onClick={() => step.mutate()}>
              {LAB_QUEUE.markMany(runs.length)}
            </Button>
            <Button color="inherit" onClick={() => setListed(false)}>
              {LAB_QUEUE.leave}
            </Button>
          </Stack>
        </Paper>
      )}
      <Failed why={step.error} />
    </>
  );
}
