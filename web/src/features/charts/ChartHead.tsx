import { Box, Button, Stack, Typography } from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { ChartView } from '../../api/chart';
import { useMayAt } from '../../session/session';
import { CHART_PAGE } from '../../words/charts';
import { LOOKING } from '../../words/looking';
import { STUDIES } from '../../words/studies';

/** What is charted, and what can be done with it. */
export function ChartHead({ view: { characteristic: c, total } }: { view: ChartView }) {
  const mayEnter = useMayAt('enter_sample', c.station_id);
  return (
    <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center', mb: 1.5, flexWrap: 'wrap' }}>
      <Box sx={{ flex: '1 1 260px', minWidth: 0 }}>
        <Typography variant="h1">{c.name}</Typography>
        <Typography color="text.secondary">
          {c.product} · {c.station} · {CHART_PAGE.samplesInAll(total)}
        </Typography>
      </Box>
      <Button color="inherit" component={RouterLink} to={`/charts/${c.id}/look`} sx={{ displayPrint: 'none' }}>
        {LOOKING.open}
      </Button>
      {c.kind === 'measured' && (
        <Button
          color="inherit"
          component={RouterLink}
          to={`/studies/capability?of=${c.id}`}
          sx={{ displayPrint: 'none' }}
        >
          {STUDIES.asks.capability}
        </Button>
      )}
      {mayEnter && (
        <Button
          variant="outlined"
          sx={{ displayPrint: 'none' }}
          component={RouterLink}
          to={c.analyte == null ? `/rounds/${c.id}` : '/lab'}
        >
          {c.analyte == null ? CHART_PAGE.enterSample : CHART_PAGE.measureRun}
        </Button>
      )}
    </Stack>
  );
}
