import { Box, Link, Paper, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import { queries } from '../../api/queries';
import { Notice } from '../../ui/Notice';
import { Loaded } from '../../ui/States';
import { useKeys } from '../../ui/useKeys';
import { episodeMeaning, episodeSentence } from '../../words/episodes';
import { ANSWER, EPISODE, isNow } from '../../words/signalPages';
import { AnswerForm } from './AnswerForm';
import { useAnswerWaits } from './useSay';

/** An episode that has just begun, or came back, asks what happened, there and then. */
export function EpisodeAsks({ id, onLater, onAnswered }: { id: string; onLater: () => void; onAnswered: () => void }) {
  const query = useQuery(queries.episode(id));
  const waits = useAnswerWaits(id);
  useKeys((event) => {
    if (event.key === 'Escape') onLater();
  });
  return (
    <Paper
      component="section"
      aria-label={EPISODE.title}
      sx={{ mt: 2, p: 2, borderLeft: 4, borderLeftColor: 'error.main' }}
    >
      <Loaded query={query} what={EPISODE.episode}>
        {(episode) => (
          <>
            <Box role="alert">
              <Typography sx={{ fontWeight: 650 }}>
                <Box component="span" aria-hidden sx={{ color: 'error.main' }}>
                  ▬{' '}
                </Box>
                {episodeSentence(episode)}
              </Typography>
              <Typography color="text.secondary">{episodeMeaning(episode)}</Typography>
            </Box>
            {waits ? (
              <Notice kind="caution">{ANSWER.waits}</Notice>
            ) : episode.steps.answer ? (
              <AnswerForm episode={episode} focus onLater={onLater} onAnswered={onAnswered} />
            ) : (
              <>
                {isNow(episode)}{' '}
                <Link component={RouterLink} to={`/signals/${id}`}>
                  {EPISODE.see}
                </Link>
              </>
            )}
          </>
        )}
      </Loaded>
    </Paper>
  );
}
