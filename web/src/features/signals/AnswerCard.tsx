import { Box, Button, Link, Paper, Stack, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { v4 as uuid } from 'uuid';
import type { AnswerView, EpisodeView, ReviewView } from '../../api/client';
import type { ChosenFile } from '../../device/files';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { ADDITION, CORRECTED, EPISODE } from '../../words/signalPages';
import { SIGNATURES } from '../../words/signatures';
import { DECISIONS } from '../../words/signals';
import { FileChoice } from './FileChoice';
import { FilesShown } from './FilesShown';
import { useSay } from './useSay';

/** An answer, with what was added to it and what was decided about it. */
export function AnswerCard({ answer, episode }: { answer: AnswerView; episode: EpisodeView }) {
  const mayAnswer = useMay('answer_signal');
  const { signals } = episode;
  return (
    <Paper component="article" sx={{ p: 1.5 }}>
      <Typography color="text.secondary" variant="body2">
        {EPISODE.answered(answer.person, answer.at)}
        {answer.signals.length < signals.length && `, ${EPISODE.answeredPart(answer.signals.length, signals.length)}`}
      </Typography>
      <Typography sx={{ fontWeight: 600 }}>{answer.cause ?? EPISODE.nothingFound}</Typography>
      <Typography>{answer.action}</Typography>
      {answer.comment != null && <Typography>{answer.comment}</Typography>}
      {answer.steps.map((step) => (
        <Typography key={step}>✓ {step}</Typography>
      ))}
      {answer.held != null && <Typography>{answer.held ? EPISODE.held : EPISODE.notHeld}</Typography>}
      {answer.corrected && <Typography>{CORRECTED(answer.corrected)}</Typography>}
      <FilesShown files={answer.files} />
      {answer.additions.map(({ person, at, comment, files }) => (
        <Box key={at + person} sx={{ mt: 1, pl: 1.5, borderLeft: 2, borderColor: 'divider' }}>
          <Typography color="text.secondary" variant="body2">
            {ADDITION.added(person, at)}
          </Typography>
          <Typography>{comment}</Typography>
          <FilesShown files={files} />
        </Box>
      ))}
      {mayAnswer && <AddTo answer={answer.id} episode={episode} />}
      {answer.review && (
        <Box sx={{ mt: 1, pt: 1, borderTop: 1, borderColor: 'divider' }}>
          <Reviewed review={answer.review} />
        </Box>
      )}
    </Paper>
  );
}

export function Reviewed({ review }: { review: ReviewView }) {
  return (
    <>
      <Typography color="text.secondary" variant="body2">
        {EPISODE.reviewed(review.person, review.at)},{' '}
        {review.signature != null && review.signed_at != null ? (
          <Link component={RouterLink} to={`/signals/signatures/${review.signature}`}>
            {SIGNATURES.signedAt(review.signed_at)}
          </Link>
        ) : (
          SIGNATURES.unsigned
        )}
      </Typography>
      <Typography sx={{ fontWeight: 600 }}>{DECISIONS[review.decision]}</Typography>
      {review.remark && <Typography>{review.remark}</Typography>}
    </>
  );
}

/** An answer is added to, never rewritten. */
function AddTo({ answer, episode }: { answer: string; episode: EpisodeView }) {
  const [open, setOpen] = useState(false);
  const [comment, setComment] = useState('');
  const [files, setFiles] = useState<ChosenFile[]>([]);
  const say = useSay(episode, () => {
    setOpen(false);
    setComment('');
    setFiles([]);
  });
  if (!open)
    return (
      <Button color="inherit" sx={{ mt: 0.5, minHeight: 48 }} onClick={() => setOpen(true)}>
        {ADDITION.begin}
      </Button>
    );
  const add = () =>
    say.mutate({
      what: 'addition',
      target: episode.characteristic,
      episode: episode.id,
      files,
      body: { entry: uuid(), answer, comment: comment.trim() },
    });
  return (
    <Stack
      component="form"
      spacing={1}
      sx={{ mt: 1 }}
      aria-label={ADDITION.title}
      onSubmit={(event) => {
        event.preventDefault();
        add();
      }}
    >
      <TextField
        label={ADDITION.comment}
        multiline
        autoFocus
        value={comment}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
        onChange={(event) => setComment(event.target.value)}
      />
      <FileChoice files={files} onChange={setFiles} />
      <Failed why={say.error} />
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button type="submit" variant="contained" disabled={say.isPending || comment.trim() === ''}>
          {ADDITION.add}
        </Button>
        <Button color="inherit" onClick={() => setOpen(false)}>
          {ADDITION.leave}
        </Button>
      </Box>
    </Stack>
  );
}
