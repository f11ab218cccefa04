import { Box } from '@mui/material';
import type { SmallChart } from '../../api/client';
import { SmallPanel } from '../../chart/SmallPanel';
import { MANY } from '../../words/charts';
import { panelFigure } from '../../words/signals';
import { WALL } from '../../words/wall';

/** A chart on the wall: what it is, its newest value, whether anything of it is open, and its points. */
export function WallChart({ chart, bold }: { chart: SmallChart; bold: number }) {
  const { panel, place, places } = chart;
  const newest = panel?.value.findLast((value) => value != null) ?? null;
  const figure = panel && newest !== null ? panelFigure(panel.statistic, newest, chart.decimals) : null;
  const open = chart.open_episodes > 0;
  return (
    <Box
      component="article"
      aria-label={`${chart.name}, ${chart.product}, ${chart.station}`}
      sx={{
        display: 'flex',
        flexDirection: 'column',
        minHeight: 0,
        minWidth: 0,
        bgcolor: 'background.paper',
        border: '0.06em solid',
        borderColor: open ? 'error.main' : 'divider',
        borderTopWidth: open ? '0.22em' : '0.06em',
        p: '0.25em 0.4em',
        lineHeight: 1.12,
      }}
    >
      <Box sx={{ display: 'flex', gap: '0.5em', alignItems: 'baseline' }}>
        <Box component="h2" sx={{ m: 0, font: 'inherit', fontWeight: 650, flex: 1, minWidth: 0, ...lines(2) }}>
          {chart.name}
        </Box>
        {figure !== null && (
          <Box component="span" sx={{ fontWeight: 700, fontSize: '1.3em', whiteSpace: 'nowrap' }}>
            {figure}
            {chart.kind === 'measured' && (
              <Box component="span" sx={{ fontWeight: 400, fontSize: '0.77em' }}>
                {' '}
                {chart.unit}
              </Box>
            )}
          </Box>
        )}
      </Box>
      <Box sx={{ display: 'flex', gap: '0.5em', color: 'text.secondary' }}>
        <Box component="span" sx={{ flex: 1, minWidth: 0, ...lines(1) }}>
          {chart.station} · {chart.product}
        </Box>
        {open && (
          <Box component="span" sx={{ color: 'error.main', fontWeight: 650, whiteSpace: 'nowrap' }}>
            {WALL.open(chart.open_episodes)}
          </Box>
        )}
      </Box>
      <Box sx={{ flex: 1, minHeight: '1.5em', position: 'relative', mt: '0.1em' }}>
        <Box sx={{ position: 'absolute', inset: 0 }}>
          {panel ? (
            <SmallPanel
              panel={panel}
              place={place}
              phases={chart.phases}
              at={place}
              from={-0.5}
              to={places - 0.5}
              label={MANY.drawn(chart.name, places, figure ?? MANY.nothing)}
              height="100%"
              bold={bold}
            />
          ) : (
            <Box sx={{ color: 'text.secondary' }}>{WALL.noSample}</Box>
          )}
        </Box>
      </Box>
    </Box>
  );
}

/** At most so many lines, with dots where there is more. */
function lines(most: number) {
  return {
    display: '-webkit-box',
    WebkitBoxOrient: 'vertical',
    WebkitLineClamp: most,
    overflow: 'hidden',
    overflowWrap: 'anywhere',
  } as const;
}
