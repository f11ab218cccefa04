import { Box, Button, Stack, TextField, Typography } from '@mui/material';
import { type KeyboardEvent, useEffect, useRef, useState } from 'react';
import { answered, api, type Decision, type EpisodeView } from '../../api/client';
import { Failed } from '../../ui/Failed';
import { REVIEW } from '../../words/signalPages';
import { useStep } from './useStep';

/** The key of each decision, while the decisions have the focus. */
const KEYS: Record<Decision, string> = { accepted: 'A', seen: 'S', sent_back: 'B', overruled: 'O' };
const NEEDS_WORDS: readonly Decision[] = ['sent_back', 'overruled'];

/** The supervisor's decision: one key, and words with it where it needs some. */
export function ReviewForm({
  episode,
  focus = false,
  onDirty,
  onReviewed,
  onSkip,
}: {
  episode: EpisodeView;
  /** The decisions have the focus from the beginning. */
  focus?: boolean;
  onDirty?: (dirty: boolean) => void;
  onReviewed: () => void;
  /** It is left for later, where there is a next one. */
  onSkip?: () => void;
}) {
  const { id, version, steps, state } = episode;
  const [remark, setRemark] = useState('');
  /** What waits for words. */
  const [meant, setMeant] = useState<Decision | null>(null);
  const words = useRef<HTMLInputElement>(null);
  const first = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (focus) first.current?.focus();
  }, [focus]);
  useEffect(() => onDirty?.(remark !== ''), [remark, onDirty]);
  const step = useStep(
    id,
    (decision: Decision) =>
      answered(
        api.POST('/api/episodes/{id}/reviews', {
          params: { path: { id } },
          body: { version, decision, remark: remark.trim() === '' ? null : remark.trim() },
        }),
      ),
    onReviewed,
  );
  const decisions: Decision[] =
    state === 'found_late' ? ['seen'] : ['accepted', ...(steps.send_back ? (['sent_back'] as const) : []), 'overruled'];
  const decide = (decision: Decision) => {
    if (step.isPending) return;
    if (NEEDS_WORDS.includes(decision) && remark.trim() === '') {
      setMeant(decision);
      words.current?.focus();
      return;
    }
    step.mutate(decision);
  };
  const onKey = (event: KeyboardEvent) => {
    // A key that is held down decides once.
    if (event.repeat || event.ctrlKey || event.altKey || event.metaKey) return;
    const pressed = event.key.toUpperCase();
    const decision = decisions.find((decision) => KEYS[decision] === pressed);
    if (decision) decide(decision);
    else if (pressed === REVIEW.skipKey && onSkip) onSkip();
    else return;
    event.preventDefault();
  };
  return (
    <Stack
      component="form"
      spacing={1.5}
      noValidate
      aria-label={REVIEW.title}
      onSubmit={(event) => {
        event.preventDefault();
        if (meant) decide(meant);
      }}
    >
      <Box role="group" aria-label={REVIEW.decide} sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }} onKeyDown={onKey}>
        {decisions.map((decision, i) => (
          <Button
            key={decision}
            ref={i === 0 ? first : undefined}
            type="button"
            variant={i === 0 ? 'contained' : 'outlined'}
            color={i === 0 ? 'primary' : 'inherit'}
            aria-keyshortcuts={KEYS[decision]}
            sx={{ minHeight: 48 }}
            onClick={() => decide(decision)}
          >
            {REVIEW.button[decision]}&ensp;<kbd aria-hidden>{KEYS[decision]}</kbd>
          </Button>
        ))}
        {onSkip && (
          <Button
            type="button"
            color="inherit"
            aria-keyshortcuts={REVIEW.skipKey}
            sx={{ minHeight: 48 }}
            onClick={onSkip}
          >
            {REVIEW.skip}&ensp;<kbd aria-hidden>{REVIEW.skipKey}</kbd>
          </Button>
        )}
      </Box>
      <TextField
        label={meant ? REVIEW.remark[meant] : REVIEW.anyRemark}
        multiline
        minRows={2}
        value={remark}
        error={meant !== null && remark.trim() === ''}
        helperText={
          meant === null ? undefined : remark.trim() === '' ? REVIEW.needsWords : REVIEW.thenSend(REVIEW.button[meant])
        }
        inputRef={words}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
        onChange={(event) => setRemark(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' || !event.ctrlKey || !meant) return;
          event.preventDefault();
          decide(meant);
        }}
      />
      {state === 'found_late' && <Typography color="text.secondary">{REVIEW.seenSays}</Typography>}
      <Failed why={step.error} />
    </Stack>
  );
}
