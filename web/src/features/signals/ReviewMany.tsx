import { Box, Button, Paper, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api, type EpisodeRow } from '../../api/client';
import { Failure } from '../../api/failure';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { episodeSentence } from '../../words/episodes';
import { sentenceFor } from '../../words/failures';
import { REVIEW, REVIEW_MANY } from '../../words/signalPages';

/** One decision on many episodes, which are listed before it is made. */
export function ReviewMany({
  chosen,
  decision,
  onDone,
}: {
  chosen: readonly EpisodeRow[];
  decision: 'accepted' | 'seen';
  onDone: () => void;
}) {
  const client = useQueryClient();
  const step = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/episodes/reviews', {
          body: { episodes: chosen.map(({ id, version }) => ({ id, version })), decision },
        }),
      ),
    onSuccess: async (told) => {
      if (told.refused.length === 0) onDone();
      for (const { characteristic, id } of chosen)
        await touch(client, { kind: 'episode', characteristic, episode: id });
    },
  });
  const of = (id: string) => chosen.find((episode) => episode.id === id);
  return (
    <Paper component="section" aria-label={REVIEW_MANY.title} sx={{ p: 2, mb: 1.5 }}>
      <Typography variant="h3">{REVIEW_MANY.chosen(chosen.length)}</Typography>
      <Box component="ul" sx={{ m: 0, my: 1, pl: 2.5, maxHeight: 180, overflowY: 'auto' }} tabIndex={0}>
        {chosen.map((episode) => (
          <li key={episode.id}>
            {episode.name}, {episode.station}: {episodeSentence(episode)}
          </li>
        ))}
      </Box>
      <Failed why={step.error} />
      {step.data && step.data.refused.length > 0 && (
        <Notice kind="caution">
          {REVIEW_MANY.kept(step.data.kept)}
          <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
            {step.data.refused.map(({ id, why }) => (
              <li key={id}>
                {of(id)?.name}: {sentenceFor(new Failure(why))}
              </li>
            ))}
          </Box>
        </Notice>
      )}
      <Button variant="contained" disabled={step.isPending} onClick={() => step.mutate()}>
        {REVIEW.button[decision]}
      </Button>
    </Paper>
  );
}
