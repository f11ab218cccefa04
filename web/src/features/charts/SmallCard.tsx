import { Box, IconButton, Link, Paper, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import { answered, api, type SmallChart } from '../../api/client';
import { queries } from '../../api/queries';
import { SmallPanel } from '../../chart/SmallPanel';
import { MANY, openEpisodes } from '../../words/charts';
import { panelFigure } from '../../words/signals';
import { when } from '../../words/time';

/** As high as three lines of a list, in pixels. */
const HEIGHT = 92;

interface Props {
  chart: SmallChart;
  /** The time that all charts share; nothing where each shows its last points. */
  time: { from: number; to: number } | null;
  mayPin: boolean;
}

/** A chart as small as a card: what it is, its points, the newest one, and what is open. One click opens the large one. */
export function SmallCard({ chart, time, mayPin }: Props) {
  const { panel, place, taken_at: takenAt, places } = chart;
  const newest = panel?.value.findLast((value) => value != null) ?? null;
  const last = takenAt[takenAt.length - 1];
  const figure = panel && newest !== null ? panelFigure(panel.statistic, newest, chart.decimals) : null;
  const unit = chart.kind === 'measured' ? ` ${chart.unit}` : '';
  return (
    <Paper
      component="article"
      sx={{ position: 'relative', display: 'flex', flexDirection: 'column', breakInside: 'avoid' }}
    >
      <Link
        component={RouterLink}
        to={`/charts/${chart.id}`}
        underline="none"
        sx={{ p: 1.25, pb: 0.75, color: 'text.primary', flex: 1, '&:hover': { bgcolor: 'action.hover' } }}
      >
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'baseline', pr: mayPin ? 4 : 0 }}>
          <Typography component="h2" sx={{ fontWeight: 600, flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>
            {chart.name}
          </Typography>
          {figure !== null && (
            <Typography component="span" sx={{ fontWeight: 700, fontFeatureSettings: '"tnum"', whiteSpace: 'nowrap' }}>
              {figure}
              {unit}
            </Typography>
          )}
        </Box>
        <Typography variant="body2" color="text.secondary">
          {chart.product} · {chart.station}
        </Typography>
        {panel && last !== undefined ? (
          <SmallPanel
            panel={panel}
            place={place}
            phases={chart.phases}
            height={HEIGHT}
            at={time ? takenAt : place}
            from={time ? time.from : -0.5}
            to={time ? time.to : places - 0.5}
            label={MANY.drawn(chart.name, places, figure ?? MANY.nothing)}
          />
        ) : (
          <Typography sx={{ minHeight: HEIGHT, display: 'grid', placeItems: 'center' }} color="text.secondary">
            {time ? MANY.noneInTime : MANY.noSample}
          </Typography>
        )}
        <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 1, flexWrap: 'wrap' }}>
          <Typography variant="body2" color="text.secondary">
            {last === undefined ? '' : when(last)}
          </Typography>
          {chart.open_episodes > 0 && (
            <Typography variant="body2" sx={{ color: 'error.main' }}>
              <span aria-hidden>▬ </span>
              {openEpisodes(chart.open_episodes)}
            </Typography>
          )}
        </Box>
      </Link>
      {mayPin && <Pin chart={chart} />}
    </Paper>
  );
}

/** Keeps a chart among one's own, or no longer. */
function Pin({ chart }: { chart: SmallChart }) {
  const client = useQueryClient();
  const pin = useMutation({
    mutationFn: async (pinned: boolean) => {
      const path = { params: { path: { id: chart.id } } };
      await answered(
        pinned ? api.PUT('/api/characteristics/{id}/pin', path) : api.DELETE('/api/characteristics/{id}/pin', path),
      );
      await client.invalidateQueries({ queryKey: queries.smallChartsAll });
    },
  });
  return (
    <IconButton
      aria-label={MANY.pin(chart.name, chart.station)}
      aria-pressed={chart.pinned}
      disabled={pin.isPending}
      onClick={() => pin.mutate(!chart.pinned)}
      sx={{ position: 'absolute', top: 2, right: 2, width: 36, height: 36, displayPrint: 'none' }}
    >
      <svg width={16} height={16} aria-hidden>
        <path
          d="M3,1.5h10v13l-5,-4l-5,4z"
          fill={chart.pinned ? 'currentColor' : 'none'}
          stroke="currentColor"
          strokeWidth={1.5}
        />
      </svg>
    </IconButton>
  );
}
