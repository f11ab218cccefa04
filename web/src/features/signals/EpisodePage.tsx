import { Button, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import type { EpisodeView } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { Notice } from '../../ui/Notice';
import { Loaded } from '../../ui/States';
import { ANSWER, EPISODE } from '../../words/signalPages';
import { AnswerForm } from './AnswerForm';
import { EpisodeBody } from './EpisodeBody';
import { ReviewForm } from './ReviewForm';
import { useAnswerWaits } from './useSay';

export default function EpisodePage() {
  const { id = '' } = useParams();
  const query = useQuery(queries.episode(id));
  return (
    <Loaded query={query} what={EPISODE.episode}>
      {(episode) => (
        <EpisodeBody episode={episode}>
          <NextStep episode={episode} />
        </EpisodeBody>
      )}
    </Loaded>
  );
}

/**
 * What this person can do about the episode now. While something is typed the form stays as it is,
 * even when somebody else acts on it first.
 */
function NextStep({ episode }: { episode: EpisodeView }) {
  const [dirty, setDirty] = useState(false);
  const [held, setHeld] = useState(episode);
  if (!dirty && held !== episode) setHeld(episode);
  const done = () => setDirty(false);
  return (
    <>
      {dirty && held.version !== episode.version && (
        <Notice kind="caution">
          {EPISODE.actedFirst}
          <Button color="inherit" variant="outlined" sx={{ display: 'block', mt: 1 }} onClick={done}>
            {EPISODE.putAway}
          </Button>
        </Notice>
      )}
      <Step key={`${held.state} ${held.version}`} episode={held} onDirty={setDirty} onDone={done} />
    </>
  );
}

function Step({
  episode,
  onDirty,
  onDone,
}: {
  episode: EpisodeView;
  onDirty: (dirty: boolean) => void;
  onDone: () => void;
}) {
  const mayAnswer = useMay('answer_signal');
  const mayReview = useMay('review_signal');
  const waits = useAnswerWaits(episode.id);
  const { steps } = episode;
  if (waits) return <Notice kind="caution">{ANSWER.waits}</Notice>;
  const late = episode.state === 'found_late';
  const review = steps.review && mayReview && (
    <Paper sx={{ p: 2 }}>
      <ReviewForm episode={episode} onDirty={onDirty} onReviewed={onDone} />
    </Paper>
  );
  if (steps.answer && (!late || mayReview)) {
    if (!mayAnswer) return null;
    return (
      <Stack spacing={2}>
        {review}
        <Paper sx={{ p: 2 }}>
          <AnswerForm episode={episode} onDirty={onDirty} onAnswered={onDone} />
        </Paper>
      </Stack>
    );
  }
  if (!steps.review && steps.not_theirs == null) return null;
  if (!mayReview) return <Typography color="text.secondary">{EPISODE.waitsForSupervisor}</Typography>;
  if (steps.not_theirs != null)
    return <Typography color="text.secondary">{EPISODE.notTheirs[steps.not_theirs]}</Typography>;
  return review;
}
