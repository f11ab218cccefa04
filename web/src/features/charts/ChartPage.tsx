import { Box, Button, Link, Paper, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link as RouterLink, useNavigate, useParams, useSearchParams } from 'react-router';
import type { ChartView } from '../../api/client';
import { queries } from '../../api/queries';
import { ControlChart } from '../../chart/ControlChart';
import { fromView } from '../../chart/fromView';
import { Empty, Loaded } from '../../ui/States';
import { figure } from '../../words/numbers';
import { panelFigure, SIGMA_SOURCES } from '../../words/signals';
import { when } from '../../words/time';
import { PointCard } from './PointCard';

const STRETCHES = [30, 60, 200, 2000] as const;

/** The whole address says what is on the screen: stretch and chosen point. */
export function ChartPage() {
  const { id = '' } = useParams();
  return <ChartOf key={id} id={id} />;
}

function ChartOf({ id }: { id: string }) {
  const [params, setParams] = useSearchParams();
  const asked = Number(params.get('last'));
  const last = STRETCHES.find((s) => s === asked) ?? 60;
  const query = useQuery({ ...queries.chart(id, last), placeholderData: keepPreviousData });
  // The router changes the address when it finds time; arrow keys may not wait for it, or a second one
  // would start from where the first one started.
  const [sample, setSample] = useState(params.get('sample'));
  // The way from the entry page leads into the form; another point that is chosen is only looked at.
  const [correct, setCorrect] = useState(params.get('correct') === '1');
  const put = (name: string, value: string | null) =>
    setParams((before) => {
      if (value === null) before.delete(name);
      else before.set(name, value);
      return before;
    }, { replace: true });
  const choose = (value: string | null) => {
    setSample(value);
    setCorrect(false);
    put('sample', value);
  };
  return (
    <Loaded query={query} what="the chart">
      {(view) => (
        <Chart view={view} last={last} onLast={(value) => put('last', String(value))} sample={sample} onSample={choose} correct={correct} />
      )}
    </Loaded>
  );
}

function Chart({ view, last, onLast, sample, onSample, correct }: {
  view: ChartView;
  correct: boolean;
  last: number;
  onLast: (last: number) => void;
  sample: string | null;
  onSample: (sample: string | null) => void;
}) {
  const navigate = useNavigate();
  const { characteristic: c } = view;
  const [traced, setTraced] = useState(true);
  const model = useMemo(() => {
    const all = fromView(view);
    return traced ? all : { ...all, traces: [] };
  }, [view, traced]);
  const found = sample === null ? -1 : view.points.findIndex((p) => String(p.number) === sample);
  const selected = found === -1 ? null : found;
  return (
    <Box>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'center', mb: 1.5, flexWrap: 'wrap' }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">{c.name}</Typography>
          <Typography color="text.secondary">{c.product} · {c.station} · {view.total} samples in all</Typography>
        </Box>
        {c.components.length > 0 && (
          <ToggleButton value="components" selected={traced} onChange={() => setTraced(!traced)}>Components</ToggleButton>
        )}
        <ToggleButtonGroup exclusive value={last} aria-label="How many points" onChange={(_, value: number | null) => value !== null && onLast(value)}>
          {STRETCHES.map((s) => (
            <ToggleButton key={s} value={s}>
              {s === 2000 ? 'Last 2000' : `Last ${s}`}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <Button variant="outlined" component={RouterLink} to={c.analyte == null ? `/rounds/${c.id}` : '/lab'}>{c.analyte == null ? 'Enter a sample' : 'Measure a run'}</Button>
      </Stack>
      {view.points.length === 0 ? (
        <Empty>No sample yet. The first one starts the chart.</Empty>
      ) : (
        <Box sx={{ display: { xs: 'flex', lg: 'grid' }, flexDirection: 'column', gridTemplateColumns: 'minmax(0, 1fr) 312px', gap: 2, alignItems: { xs: 'stretch', lg: 'start' } }}>
          <Paper component="section" aria-label="Chart" sx={{ p: 1.5, pt: 1 }}>
            <ControlChart
              model={model}
              height={540}
              selected={selected}
              onSelect={(point) => onSample(point === null ? null : String(view.points[point]?.number ?? ''))}
              onOpenSignal={(signal) => void navigate(`/signals/${signal}`)}
            />
            <Typography color="text.secondary" variant="body2" sx={{ mt: 1 }}>
              <kbd>←</kbd> <kbd>→</kbd> choose a point · <kbd>+</kbd> <kbd>−</kbd> zoom · <kbd>0</kbd> shows all · drag moves along · wheel with <kbd>Ctrl</kbd> zooms
            </Typography>
          </Paper>
          {/* Where it would stand below the chart, the card of a point lies over its lower part. */}
          <Stack
            spacing={2}
            sx={selected === null ? {} : { position: { xs: 'sticky', lg: 'static' }, bottom: 8, zIndex: 2, maxHeight: { xs: '62vh', lg: 'none' }, overflowY: { xs: 'auto', lg: 'visible' } }}
          >
            {selected === null ? <Figures view={view} /> : <PointCard key={view.points[selected]?.sample} view={view} place={selected} correct={correct} />}
          </Stack>
        </Box>
      )}
    </Box>
  );
}

/** The figures beside the chart: what the limits are, and where they come from. */
function Figures({ view }: { view: ChartView }) {
  const { decimals, unit } = view.characteristic;
  const phase = view.phases[view.phases.length - 1]?.limits;
  if (!phase) return null;
  const counted = view.characteristic.kind !== 'measured';
  const location = view.panels[0]?.statistic ?? 'mean';
  // The centre of a chart of counts in a constant number is kept as a share.
  const shown = view.characteristic.chart === 'np' ? 'proportion' : location;
  const centre = `${panelFigure(shown, phase.center, decimals)}${counted ? '' : ` ${unit}`}`;
  const rows: [string, string][] = [
    ['Centre', centre],
    ...(counted ? [] : [['Sigma', `${figure(phase.sigma, decimals + 2)} ${unit}`] as [string, string]]),
    ['Sigma from', SIGMA_SOURCES[phase.sigma_method]],
    ['Limits at', `${phase.k} sigma`],
    ['Points used', phase.sigma_method === 'assigned' ? 'none: assigned' : phase.used == null ? 'too few yet' : String(phase.used)],
    ['State', phase.state === 'trial' ? 'trial' : 'in force'],
    ['Since', when(phase.put_in_force_at ?? phase.starts_at)],
    ['By', phase.put_in_force_by ?? 'computed with each sample'],
  ];
  return (
    <Paper component="section" aria-label="Figures" sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>Limits now: {phase.name}</Typography>
      <Box component="dl" sx={{ m: 0, display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 2, rowGap: 0.5, '& dt': { color: 'text.secondary' }, '& dd': { m: 0, textAlign: 'right' } }}>
        {rows.map(([name, value]) => (
          <Box key={name} sx={{ display: 'contents' }}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </Box>
        ))}
      </Box>
      <Typography color="text.secondary" sx={{ mt: 1.5 }}>
        Choose a point to see its readings and to write a note. <Link component={RouterLink} to="/signals">All signals</Link>
      </Typography>
    </Paper>
  );
}
