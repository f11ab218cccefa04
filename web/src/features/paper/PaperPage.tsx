import { Box, Button, Stack, Typography } from '@mui/material';
import { Global } from '@emotion/react';
import { useQuery } from '@tanstack/react-query';
import { QRCodeSVG } from 'qrcode.react';
import { Link as RouterLink, useParams } from 'react-router';
import type { ChartView } from '../../api/chart';
import { queries } from '../../api/queries';
import { linesAt } from '../../chart/model';
import { Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { POINT } from '../../words/charts';
import { PAPER } from '../../words/out';
import { panelFigure, panelTitle } from '../../words/signals';
import { onDate } from '../../words/time';
import { Blank } from './Blank';

/** A chart to be filled by hand at the machine, with today's limits, and a code that opens its entry. */
export default function PaperPage() {
  const { id = '' } = useParams();
  const query = useQuery(queries.chart(id, { last: 1 }));
  const { params, put } = useAddress();
  const label = params.get('only') === 'label';
  return (
    <Loaded query={query} what={PAPER.what}>
      {(view) => (
        <Box>
          {/* Any usual paper, lying; black and white is enough. */}
          <Global styles={{ '@page': { size: 'landscape', margin: '9mm' } }} />
          <Stack direction="row" sx={{ gap: 1.5, mb: 1.5, flexWrap: 'wrap', displayPrint: 'none' }}>
            <Button variant="contained" onClick={() => window.print()}>
              {PAPER.print}
            </Button>
            <Button color="inherit" onClick={() => put({ only: label ? null : 'label' }, true)}>
              {label ? PAPER.whole : PAPER.toLabel}
            </Button>
            <Button color="inherit" component={RouterLink} to={`/charts/${id}`}>
              {PAPER.toChart}
            </Button>
          </Stack>
          {label ? <Label view={view} /> : <Sheet view={view} />}
        </Box>
      )}
    </Loaded>
  );
}

/** Where a sample of the characteristic is entered. */
const entryOf = ({ id }: ChartView['characteristic']) => new URL(`/rounds/${id}`, window.location.href).href;

function Sheet({ view }: { view: ChartView }) {
  const { characteristic: c, panels } = view;
  const phase = view.phases[view.phases.length - 1]?.limits;
  const limits = panels.map((panel) => ({ panel, lines: linesAt(panel, panel.value.length - 1) }));
  const known = limits.some(({ lines }) => lines?.upper != null);
  return (
    <Box
      component="section"
      aria-label={PAPER.title(c.name)}
      sx={{ bgcolor: '#fff', color: '#000', p: { xs: 1, md: 2 }, overflowX: 'auto', '@media print': { p: 0 } }}
    >
      <Box sx={{ minWidth: 900, '@media print': { minWidth: 0 } }}>
        <Stack direction="row" sx={{ justifyContent: 'space-between', gap: 2, alignItems: 'start' }}>
          <Box>
            <Typography variant="h1">{c.name}</Typography>
            <Typography>
              {c.product} · {c.station} · {c.unit}
            </Typography>
            <Typography variant="body2">
              {phase && known
                ? PAPER.limitsOf(phase.limits_name ?? phase.name, onDate(new Date().toISOString()))
                : PAPER.noLimits}
            </Typography>
            {limits.map(({ panel, lines }) => {
              const of = (value: number | null | undefined) => panelFigure(panel.statistic, value, c.decimals);
              return (
                lines && (
                  <Typography key={panel.statistic} variant="body2">
                    {panelTitle(panel.statistic, c)}: {POINT.limits(of(lines.lower), of(lines.center), of(lines.upper))}
                  </Typography>
                )
              );
            })}
          </Box>
          <Code view={view} size={92} />
        </Stack>
        <Blank view={view} />
      </Box>
    </Box>
  );
}

function Code({ view, size }: { view: ChartView; size: number }) {
  const entry = entryOf(view.characteristic);
  return (
    <Stack sx={{ alignItems: 'center', gap: 0.5, flexShrink: 0 }}>
      <QRCodeSVG value={entry} size={size} level="M" title={PAPER.code} data-entry={entry} />
      <Typography variant="body2">{PAPER.code}</Typography>
    </Stack>
  );
}

/** The code with what it is of, to be stuck to the station. */
function Label({ view }: { view: ChartView }) {
  const { characteristic: c } = view;
  return (
    <Box
      component="section"
      aria-label={PAPER.label}
      sx={{ bgcolor: '#fff', color: '#000', p: 2, width: 340, border: '1px solid #000', textAlign: 'center' }}
    >
      <Typography variant="h1">{c.name}</Typography>
      <Typography sx={{ mb: 1.5 }}>
        {c.product} · {c.station}
      </Typography>
      <Code view={view} size={220} />
    </Box>
  );
}
