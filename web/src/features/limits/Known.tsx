import { Box, Link, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import type { ChartPoint, ChartView } from '../../api/chart';
import { queries } from '../../api/queries';
import { episodeLabel } from '../../words/episodes';
import { PATH_POINTS } from '../../words/limits';
import { recorded } from '../../words/samples';
import { STATES } from '../../words/signals';
import { when } from '../../words/time';

/** Everything known about a point: what was recorded, its tags, notes, what happened before it, answers. */
export function Known({ view, point }: { view: ChartView; point: ChartPoint }) {
  const { place } = point;
  const before = view.points[view.points.indexOf(point) - 1];
  const notes = view.notes.filter((note) => note.place === place);
  const events = view.events.filter(({ at }) => {
    const moment = Date.parse(at);
    return moment <= Date.parse(point.taken_at) && (!before || moment > Date.parse(before.taken_at));
  });
  const episodes = view.episodes.filter((episode) => episode.from <= place && place <= episode.to);
  const tags = Object.entries(point.tags).map(([name, value]) => `${name} ${value}`);
  return (
    <Box sx={{ mt: 1, display: 'grid', gap: 0.5 }}>
      <Typography>{recorded(point, view.characteristic)}</Typography>
      <Typography color="text.secondary">
        {when(point.taken_at)}, {point.person}
        {tags.length > 0 && ` · ${tags.join(' · ')}`}
      </Typography>
      {events.map((event) => (
        <Typography key={event.id}>
          {PATH_POINTS.happened}: {[event.kind, event.lot, event.text].filter(Boolean).join(' · ')}
        </Typography>
      ))}
      {notes.map((note) => (
        <Typography key={note.at}>
          {note.person}: {note.text}
        </Typography>
      ))}
      {episodes.map((episode) => (
        <Box key={episode.id}>
          <Link component={RouterLink} to={`/signals/${episode.id}`}>
            {episodeLabel(episode.patterns)}
          </Link>
          , {STATES[episode.state].toLowerCase()}
          <LastAnswer episode={episode.id} />
        </Box>
      ))}
    </Box>
  );
}

function LastAnswer({ episode }: { episode: string }) {
  const { data } = useQuery(queries.episode(episode));
  const last = data?.answers[data.answers.length - 1];
  if (!last) return null;
  return (
    <Typography color="text.secondary">
      {PATH_POINTS.answeredBy(last.person, last.cause ?? PATH_POINTS.nothingFound, last.action)}
    </Typography>
  );
}
