import { Box, Link, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useMemo } from 'react';
import { Link as RouterLink, useNavigate } from 'react-router';
import type { EpisodeView } from '../../api/client';
import { ControlChart } from '../../chart/ControlChart';
import { fromView } from '../../chart/fromView';
import { useMay } from '../../session/session';
import { Notice } from '../../ui/Notice';
import { StateMark } from '../../ui/StateMark';
import { Loaded } from '../../ui/States';
import { episodeMeaning, episodeSentence } from '../../words/episodes';
import { EPISODE, openFor, raisedToSupervisors } from '../../words/signalPages';
import { raisedAgainst, spanLabel } from '../../words/signals';
import { TREES } from '../../words/trees';
import { AnswerCard, Reviewed } from './AnswerCard';
import { around, shownOn } from './around';
import { Explained } from './Explained';
import { PatternSamples } from './PatternSamples';

/** One episode: what it says, what was answered and decided, what is to be done, and what it looks like. */
export function EpisodeBody({ episode, children }: { episode: EpisodeView; children: ReactNode }) {
  const { answers, follows, reviews, state } = episode;
  const mayStart = useMay('keep_study');
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
          <StateMark state={state} />
          <Typography color="text.secondary">
            {episode.steps.answer
              ? episode.escalated_at == null
                ? openFor(episode.raised_at)
                : raisedToSupervisors(episode.escalated_at)
              : EPISODE.raised(episode.raised_at)}
          </Typography>
        </Stack>
        <Typography variant="h1" sx={{ mt: 1 }}>
          {episodeSentence(episode)}
        </Typography>
        <Typography sx={{ mt: 0.5 }}>
          <Link component={RouterLink} to={`/charts/${episode.characteristic}`}>
            {episode.name}
          </Link>{' '}
          · {episode.product} · {episode.station}
          {episode.run && (
            <>
              {' '}
              ·{' '}
              <Link component={RouterLink} to={`/lab/runs/${episode.run.id}`}>
                {EPISODE.run(episode.run.number)}
              </Link>
            </>
          )}
        </Typography>
        <Typography color="text.secondary" sx={{ mt: 0.5 }}>
          {episodeMeaning(episode)} {state === 'found_late' && EPISODE.foundLate} {episode.gone && EPISODE.gone}
        </Typography>
        {follows && (
          <Typography sx={{ mt: 0.5 }}>
            <Link component={RouterLink} to={`/signals/${follows.id}`}>
              {EPISODE.goesOnFrom(follows.from_number, follows.to_number)}
            </Link>
          </Typography>
        )}
        <Stack spacing={1} sx={{ my: 2 }}>
          {answers.map((answer) => (
            <AnswerCard key={answer.id} answer={answer} episode={episode} />
          ))}
          {reviews.map((review) => (
            <Paper key={review.at} component="article" sx={{ p: 1.5 }}>
              <Reviewed review={review} />
            </Paper>
          ))}
        </Stack>
        {children}
        {mayStart && (
          <Link component={RouterLink} to={treeOf(episode)} sx={{ display: 'inline-block', mt: 1.5 }}>
            {TREES.start}
          </Link>
        )}
      </Box>
      <Box>
        <Surroundings episode={episode} />
        <PatternSamples episode={episode} />
        <Explained episode={episode} />
        <Findings episode={episode} />
      </Box>
    </Box>
  );
}

/** A cause tree of the episode, with what is known of it already. */
function treeOf(episode: EpisodeView): string {
  const { id, characteristic, name, product, station } = episode;
  const params = new URLSearchParams({
    of: characteristic,
    episode: id,
    name: `${name}, ${station}`.slice(0, 80),
    what: `${name}, ${product}: ${episodeMeaning(episode)}`,
    place: station,
  });
  return `/cause-trees/new?${params.toString()}`;
}

/** Each rule that was broken, with the figures it was broken against. */
function Findings({ episode }: { episode: EpisodeView }) {
  const { decimals, signals, trial, unit } = episode;
  const against = signals.map((signal) => raisedAgainst({ ...signal, decimals, trial, unit }));
  // Most often it was one set of limits; it is said once then.
  const same = new Set(against).size === 1;
  return (
    <Box component="section" aria-label={EPISODE.signals(signals.length)} sx={{ mt: 2 }}>
      <Typography variant="h3" component="h2">
        {EPISODE.signals(signals.length)}
      </Typography>
      {same && <Typography color="text.secondary">{against[0]}</Typography>}
      <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
        {signals.map((signal, i) => (
          <Box component="li" key={signal.id} sx={{ mt: 0.5 }}>
            {signal.level != null && (
              <>
                <Link component={RouterLink} to={`/charts/${signal.characteristic}`}>
                  {signal.level}
                </Link>
                {': '}
              </>
            )}
            {spanLabel(signal.rule, signal.side, signal.panel)}, {EPISODE.samples(signal.from_number, signal.to_number)}
            <Typography color="text.secondary" variant="body2">
              {!same && against[i]} {signal.late && EPISODE.foundAmong}
            </Typography>
            {signal.withdrawn_at != null && signal.withdrawn_reason != null && (
              <Notice kind="caution">
                {EPISODE.withdrawn(signal.withdrawn_at, signal.withdrawn_reason)}{' '}
                {signal.cleared_by != null && EPISODE.cleared(signal.cleared_by)}
              </Notice>
            )}
          </Box>
        ))}
      </Box>
    </Box>
  );
}

/** The chart around the pattern; of a run that of each level that it flags. */
function Surroundings({ episode }: { episode: EpisodeView }) {
  const charts = shownOn(episode);
  const height = charts.length === 1 ? 460 : 300;
  return (
    <Paper component="section" aria-label={EPISODE.chart} sx={{ p: 1.5, pt: 1 }}>
      {charts.map(({ lies, level }) => (
        <Box key={lies.characteristic}>
          {level !== null && (
            <Typography variant="h3" component="h2">
              {level}
            </Typography>
          )}
          <ChartAround lies={lies} height={height} />
        </Box>
      ))}
    </Paper>
  );
}

function ChartAround({ lies, height }: { lies: Parameters<typeof around>[0]; height: number }) {
  const navigate = useNavigate();
  const query = useQuery(around(lies));
  const model = useMemo(() => (query.data ? fromView(query.data) : undefined), [query.data]);
  return (
    <Loaded query={query} what={EPISODE.theChart}>
      {() =>
        model && (
          <ControlChart model={model} height={height} onOpenEpisode={(other) => void navigate(`/signals/${other}`)} />
        )
      }
    </Loaded>
  );
}
