import { Box, Button, Link, Paper, Typography } from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { ChartView } from '../../api/chart';
import { Notice } from '../../ui/Notice';
import { CHART_PAGE } from '../../words/charts';
import { LIMITS, LIMITS_STATES } from '../../words/limits';
import { figure } from '../../words/numbers';
import { panelFigure, SIGMA_SOURCES } from '../../words/signals';
import { when } from '../../words/time';

/** The figures beside the chart: what the limits are, and where they come from. */
export function Figures({ view }: { view: ChartView }) {
  const { decimals, unit } = view.characteristic;
  const shown = view.phases[view.phases.length - 1];
  if (!shown) return null;
  const { limits: phase, aside_since: asideSince } = shown;
  const counted = view.characteristic.kind !== 'measured';
  const location = view.panels[0]?.statistic ?? 'mean';
  // The centre of a chart of counts in a constant number is kept as a share.
  const centred = view.characteristic.chart === 'np' ? 'proportion' : location;
  const figures = panelFigure(centred, phase.figures?.center, decimals);
  const centre = counted ? figures : `${figures} ${unit}`;
  const rows: [string, string][] = [
    [CHART_PAGE.centre, centre],
    ...(counted
      ? []
      : [[CHART_PAGE.sigma, `${figure(phase.figures?.sigma, decimals + 2)} ${unit}`] as [string, string]]),
    [CHART_PAGE.sigmaFrom, SIGMA_SOURCES[phase.sigma_method]],
    [CHART_PAGE.limitsAt, CHART_PAGE.atSigma(view.characteristic.k)],
    [
      CHART_PAGE.pointsUsed,
      phase.baseline != null
        ? String(phase.baseline.points)
        : phase.figures == null
          ? CHART_PAGE.tooFew
          : CHART_PAGE.noneGiven,
    ],
    [CHART_PAGE.state, LIMITS_STATES[phase.state]],
    [CHART_PAGE.since, when(phase.put_in_force_at ?? phase.starts_at)],
    [CHART_PAGE.by, phase.put_in_force_by ?? CHART_PAGE.withEachSample],
  ];
  return (
    <Paper component="section" aria-label={CHART_PAGE.figures} sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {CHART_PAGE.limitsNow(phase.limits_name ?? phase.name)}
      </Typography>
      <Box
        component="dl"
        sx={{
          m: 0,
          display: 'grid',
          gridTemplateColumns: 'auto 1fr',
          '@media print': { gridTemplateColumns: 'auto 1fr auto 1fr' },
          columnGap: 2,
          rowGap: 0.5,
          '& dt': { color: 'text.secondary' },
          '& dd': { m: 0, textAlign: 'right' },
        }}
      >
        {rows.map(([name, value]) => (
          <Box key={name} sx={{ display: 'contents' }}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </Box>
        ))}
      </Box>
      {phase.remark != null && <Typography sx={{ mt: 1 }}>{phase.remark}</Typography>}
      {asideSince > 0 && <Notice kind="caution">{LIMITS.asideSince(asideSince)}</Notice>}
      <Button
        component={RouterLink}
        to={`/charts/${view.characteristic.id}/limits`}
        variant="outlined"
        sx={{ mt: 1.5, displayPrint: 'none' }}
      >
        {LIMITS.toLimits}
      </Button>
      <Typography color="text.secondary" sx={{ mt: 1.5, displayPrint: 'none' }}>
        {CHART_PAGE.choosePoint}{' '}
        <Link component={RouterLink} to="/signals">
          {CHART_PAGE.allSignals}
        </Link>
      </Typography>
    </Paper>
  );
}
