import { Box, Button, Link, Paper, Typography } from '@mui/material';
import { useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { Link as RouterLink } from 'react-router';
import type { ChartView } from '../../api/chart';
import { linesAt } from '../../chart/model';
import { useMayAt } from '../../session/session';
import { Notice } from '../../ui/Notice';
import { POINT } from '../../words/charts';
import { recorded } from '../../words/samples';
import { episodeLabel } from '../../words/episodes';
import { panelFigure, panelName, STATES } from '../../words/signals';
import { ChangeForm, Earlier } from './ChangeForm';
import { Notes } from './Notes';
import { PointDeeds } from './PointDeeds';

/** A sample that arrives later than this after it was taken has waited somewhere. */
const LATE_MS = 1000;

/** Everything about one point of a chart: readings, limits of that point, who, when, signals, notes. */
export function PointCard({ view, at, correct = false }: { view: ChartView; at: number; correct?: boolean }) {
  const mayChange = useMayAt('change_sample', view.characteristic.station_id);
  const [changing, setChanging] = useState(correct);
  const opener = useRef<HTMLButtonElement>(null);
  const done = () => {
    flushSync(() => setChanging(false));
    opener.current?.focus();
  };
  const point = view.points[at];
  if (!point) return null;
  const { decimals } = view.characteristic;
  const episodes = view.episodes.filter((episode) => episode.from <= point.place && point.place <= episode.to);
  return (
    <Paper component="section" aria-label={POINT.sample(point.number)} sx={{ p: 2 }}>
      <Typography variant="h2">{POINT.sample(point.number)}</Typography>
      <Typography color="text.secondary">
        {late(point)
          ? POINT.takenLate(point.taken_at, point.person, point.arrived_at)
          : POINT.taken(point.taken_at, point.person)}
      </Typography>
      <Typography sx={{ my: 1, fontSize: '1.25rem', fontWeight: 600 }}>
        {recorded(point, view.characteristic)}
      </Typography>
      {point.gap != null && (
        <Notice kind="caution">
          {(point.gap.withdrawn ? POINT.withdrawn : POINT.skipped)(point.gap.person, point.gap.because)}
        </Notice>
      )}
      {point.doubts.map((doubt) => (
        <Typography key={`${doubt.piece} ${doubt.first ?? ''}`} color="text.secondary">
          {POINT.doubted(doubt, view.characteristic.subgroup_size)}
        </Typography>
      ))}
      {Object.keys(point.tags).length > 0 && (
        <Typography color="text.secondary">
          {Object.entries(point.tags)
            .map(([name, value]) => `${name} ${value}`)
            .join(' · ')}
        </Typography>
      )}
      {view.panels.map((panel) => {
        const lines = linesAt(panel, at);
        return (
          <Typography key={panel.statistic}>
            {panelName(panel.statistic)} <strong>{panelFigure(panel.statistic, panel.value[at], decimals)}</strong>{' '}
            <Box component="span" sx={{ color: 'text.secondary' }}>
              {POINT.limits(
                panelFigure(panel.statistic, lines?.lower, decimals),
                panelFigure(panel.statistic, lines?.center, decimals),
                panelFigure(panel.statistic, lines?.upper, decimals),
              )}
            </Box>
          </Typography>
        );
      })}
      {episodes.map((episode) => (
        <Typography key={episode.id} sx={{ mt: 1 }}>
          <Box component="span" aria-hidden sx={{ color: 'error.main' }}>
            ▬{' '}
          </Box>
          <Link component={RouterLink} to={`/signals/${episode.id}`}>
            {episodeLabel(episode.patterns)}
          </Link>
          , {STATES[episode.state].toLowerCase()}
        </Typography>
      ))}
      <PointDeeds characteristic={view.characteristic.id} point={point} />
      {point.corrected && <Earlier sample={point.sample} version={point.version} />}
      {changing && <ChangeForm view={view} point={point} onDone={done} />}
      {!changing && point.gap == null && mayChange && (
        <Button
          ref={opener}
          color="inherit"
          variant="outlined"
          sx={{ mt: 1.5, minHeight: 48 }}
          onClick={() => setChanging(true)}
        >
          {POINT.change}
        </Button>
      )}
      <Notes view={view} point={point} />
    </Paper>
  );
}

/** A sample that waited on its device, or on a courier, shows both its times. */
function late({ taken_at, arrived_at }: { taken_at: string; arrived_at: string }): boolean {
  return Date.parse(arrived_at) - Date.parse(taken_at) > LATE_MS;
}
