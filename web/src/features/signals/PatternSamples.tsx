import { Box, Link, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import type { EpisodeView } from '../../api/client';
import { EPISODE } from '../../words/signalPages';
import { recorded } from '../../words/samples';
import { when } from '../../words/time';
import { around } from './around';

/** More are looked at on the chart. */
const SHOWN = 12;

/** What the samples of the pattern recorded, the latest first, with their tags. */
export function PatternSamples({ episode }: { episode: EpisodeView }) {
  const view = useQuery(around(episode)).data;
  if (!view) return null;
  const inside = view.points.filter(({ number, gap }) => gap == null && isInside(number, episode)).reverse();
  if (inside.length === 0) return null;
  const tags = (of: (typeof inside)[number]) =>
    Object.entries(of.tags)
      .map(([tag, value]) => `${tag} ${value}`)
      .join(' · ');
  return (
    <Box component="section" aria-label={EPISODE.itsSamples} sx={{ mt: 2 }}>
      <Typography variant="h3" component="h2">
        {EPISODE.itsSamples}
      </Typography>
      <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
        {inside.slice(0, SHOWN).map((point) => (
          <li key={point.sample}>
            <Link component={RouterLink} to={`/charts/${episode.characteristic}?sample=${point.number}`}>
              {EPISODE.samples(point.number, point.number)}
            </Link>
            , {when(point.taken_at)}, {point.person}:{' '}
            <Box component="span" sx={{ fontFeatureSettings: '"tnum"' }}>
              {recorded(point, view.characteristic)}
            </Box>
            <Typography component="span" color="text.secondary">
              {' '}
              {tags(point)}
            </Typography>
          </li>
        ))}
      </Box>
      {inside.length > SHOWN && (
        <Typography color="text.secondary">{EPISODE.moreSamples(inside.length - SHOWN)}</Typography>
      )}
    </Box>
  );
}

/** Numbers run as samples were entered; where one came late, the chart shows it all the same. */
function isInside(number: number, { from_number: from, to_number: to }: EpisodeView): boolean {
  return number >= Math.min(from, to) && number <= Math.max(from, to);
}
