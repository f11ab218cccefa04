import { Box, Link, Paper, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import { queries } from '../../api/queries';
import { Loaded } from '../../ui/States';
import { useKeys } from '../../ui/useKeys';
import { SIGNAL } from '../../words/signalPages';
import { meaning, sentence } from '../../words/signals';
import { AnswerForm } from './AnswerForm';
import { ReactionPlan } from './ReactionPlan';

/** A signal that has just come asks what happened, there and then. */
export function SignalAsks({
  id,
  alike,
  onLater,
  onAnswered,
}: {
  id: string;
  /** Other signals that the same sample raised. */
  alike: readonly string[];
  onLater: () => void;
  onAnswered: (ids: readonly string[]) => void;
}) {
  const query = useQuery(queries.signal(id));
  useKeys((event) => {
    if (event.key === 'Escape') onLater();
  });
  return (
    <Paper
      component="section"
      aria-label={SIGNAL.title}
      sx={{ mt: 2, p: 2, borderLeft: 4, borderLeftColor: 'error.main' }}
    >
      <Loaded query={query} what={SIGNAL.signal}>
        {(signal) => (
          <>
            <Box role="alert">
              <Typography sx={{ fontWeight: 650 }}>
                <Box component="span" aria-hidden sx={{ color: 'error.main' }}>
                  ▬{' '}
                </Box>
                {sentence(signal)}
              </Typography>
              <Typography color="text.secondary">{meaning(signal.rule, signal.panel)}</Typography>
            </Box>
            <ReactionPlan steps={signal.reaction_plan} />
            {signal.state === 'open' ? (
              <AnswerForm signal={signal} alike={alike} focus onLater={onLater} onAnswered={onAnswered} />
            ) : (
              <Link component={RouterLink} to={`/signals/${id}`}>
                {SIGNAL.isNow[signal.state]}
              </Link>
            )}
          </>
        )}
      </Loaded>
    </Paper>
  );
}
