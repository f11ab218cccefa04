import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link as RouterLink, useNavigate, useParams } from 'react-router';
import type { SignalView } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { ControlChart } from '../../chart/ControlChart';
import { fromView } from '../../chart/fromView';
import { Notice } from '../../ui/Notice';
import { StateMark } from '../../ui/StateMark';
import { Loaded } from '../../ui/States';
import { openFor, SIGNAL } from '../../words/signalPages';
import { DECISIONS, meaning, raisedAgainst, sentence } from '../../words/signals';
import { AnswerForm } from './AnswerForm';
import { ReactionPlan } from './ReactionPlan';
import { ReviewForm } from './ReviewForm';

export function SignalPage() {
  const { id = '' } = useParams();
  const query = useQuery(queries.signal(id));
  return (
    <Loaded query={query} what={SIGNAL.signal}>
      {(signal) => <Signal signal={signal} />}
    </Loaded>
  );
}

function Signal({ signal }: { signal: SignalView }) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: '432px minmax(0, 1fr)' },
        gap: 2,
        alignItems: 'start',
      }}
    >
      <Box>
        <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
          <StateMark state={signal.state} />
          <Typography color="text.secondary">
            {signal.state === 'open' ? openFor(signal.raised_at) : SIGNAL.raised(signal.raised_at)}
          </Typography>
        </Stack>
        <Typography variant="h1" sx={{ mt: 1 }}>
          {sentence(signal)}
        </Typography>
        <Typography sx={{ mt: 0.5 }}>
          <Link component={RouterLink} to={`/charts/${signal.characteristic}`}>
            {signal.name}
          </Link>{' '}
          · {signal.product} · {signal.station}
        </Typography>
        <Typography color="text.secondary" sx={{ mt: 0.5 }}>
          {meaning(signal.rule, signal.panel)}
        </Typography>
        <Typography color="text.secondary">
          {raisedAgainst(signal)} {signal.late && SIGNAL.foundLate}
        </Typography>
        {signal.withdrawn_at != null && signal.withdrawn_reason != null && (
          <Notice kind="caution">
            {SIGNAL.withdrawn(signal.withdrawn_at, signal.withdrawn_reason)}{' '}
            {signal.cleared_by != null && SIGNAL.cleared(signal.cleared_by)}
          </Notice>
        )}
        <Answers signal={signal} />
        <NextStep signal={signal} />
      </Box>
      <Surroundings signal={signal} />
    </Box>
  );
}

function Answers({ signal }: { signal: SignalView }) {
  return (
    <Stack spacing={1} sx={{ my: 2 }}>
      {signal.answers.map((answer) => (
        <Paper key={answer.at} component="article" sx={{ p: 1.5 }}>
          <Typography color="text.secondary" variant="body2">
            {SIGNAL.answered(answer.person, answer.at)}
          </Typography>
          <Typography sx={{ fontWeight: 600 }}>{answer.cause ?? SIGNAL.nothingFound}</Typography>
          <Typography>{answer.action}</Typography>
          {answer.review && (
            <Box sx={{ mt: 1, pt: 1, borderTop: 1, borderColor: 'divider' }}>
              <Reviewed review={answer.review} />
            </Box>
          )}
        </Paper>
      ))}
      {signal.cleared_review && (
        <Paper component="article" sx={{ p: 1.5 }}>
          <Reviewed review={signal.cleared_review} />
        </Paper>
      )}
    </Stack>
  );
}

function Reviewed({ review }: { review: NonNullable<SignalView['cleared_review']> }) {
  return (
    <>
      <Typography color="text.secondary" variant="body2">
        {SIGNAL.reviewed(review.person, review.at)}
      </Typography>
      <Typography sx={{ fontWeight: 600 }}>{DECISIONS[review.decision]}</Typography>
      {review.remark && <Typography>{review.remark}</Typography>}
    </>
  );
}

/**
 * What this person can do about the signal now. While something is typed the form stays as it is,
 * even when somebody else acts on the signal first.
 */
function NextStep({ signal }: { signal: SignalView }) {
  const [dirty, setDirty] = useState(false);
  const [held, setHeld] = useState(signal);
  if (!dirty && held !== signal) setHeld(signal);
  const done = () => setDirty(false);
  return (
    <>
      {dirty && held.version !== signal.version && (
        <Notice kind="caution">
          {SIGNAL.actedFirst}
          <Button color="inherit" variant="outlined" sx={{ display: 'block', mt: 1 }} onClick={done}>
            {SIGNAL.putAway}
          </Button>
        </Notice>
      )}
      <Step key={`${held.state} ${held.version}`} signal={held} onDirty={setDirty} onDone={done} />
    </>
  );
}

function Step({
  signal,
  onDirty,
  onDone,
}: {
  signal: SignalView;
  onDirty: (dirty: boolean) => void;
  onDone: () => void;
}) {
  const mayAnswer = useMay('answer_signal');
  const mayReview = useMay('review_signal');
  const { steps } = signal;
  if (steps.answer) {
    if (!mayAnswer) return null;
    return (
      <Paper sx={{ p: 2 }}>
        <ReactionPlan steps={signal.reaction_plan} />
        <AnswerForm signal={signal} onDirty={onDirty} onAnswered={onDone} />
      </Paper>
    );
  }
  if (!steps.review && !steps.own_answer) return null;
  if (!mayReview) return <Typography color="text.secondary">{SIGNAL.waitsForSupervisor}</Typography>;
  if (steps.own_answer) return <Typography color="text.secondary">{SIGNAL.ownAnswer}</Typography>;
  return (
    <Paper sx={{ p: 2 }}>
      <ReviewForm signal={signal} onDirty={onDirty} onReviewed={onDone} />
    </Paper>
  );
}

/** The chart around the pattern. */
function Surroundings({ signal }: { signal: SignalView }) {
  const navigate = useNavigate();
  const { characteristic: id, to_sample: until } = signal;
  const last = Math.min(200, signal.to_number - signal.from_number + 30);
  const query = useQuery(queries.chartAround(id, until, last));
  const model = useMemo(() => (query.data ? fromView(query.data) : undefined), [query.data]);
  return (
    <Paper component="section" aria-label={SIGNAL.chart} sx={{ p: 1.5, pt: 1, position: 'sticky', top: 12 }}>
      <Loaded query={query} what={SIGNAL.theChart}>
        {() =>
          model && (
            <ControlChart model={model} height={600} onOpenSignal={(other) => void navigate(`/signals/${other}`)} />
          )
        }
      </Loaded>
    </Paper>
  );
}
