import { Box, Button, Link, Paper, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link as RouterLink, useNavigate, useParams, useSearchParams } from 'react-router';
import type { ChartView } from '../../api/client';
import { queries } from '../../api/queries';
import { useMayAt } from '../../session/session';
import { ControlChart } from '../../chart/ControlChart';
import { fromView } from '../../chart/fromView';
import { KeyHints } from '../../ui/KeyHints';
import { Notice } from '../../ui/Notice';
import { Empty, Loaded } from '../../ui/States';
import { CHART_KEYS, CHART_PAGE } from '../../words/charts';
import { figure } from '../../words/numbers';
import { panelFigure, SIGMA_SOURCES } from '../../words/signals';
import { LOOKING } from '../../words/looking';
import { LOOK, lookInWords } from '../../words/look';
import { LIMITS, LIMITS_STATES } from '../../words/limits';
import { when } from '../../words/time';
import { PointCard } from '../points';
import { TrustCheck } from './TrustCheck';

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
    setParams(
      (before) => {
        if (value === null) before.delete(name);
        else before.set(name, value);
        return before;
      },
      { replace: true },
    );
  const choose = (value: string | null) => {
    setSample(value);
    setCorrect(false);
    put('sample', value);
  };
  return (
    <Loaded query={query} what={CHART_PAGE.chart}>
      {(view) => (
        <Chart
          view={view}
          last={last}
          onLast={(value) => put('last', String(value))}
          sample={sample}
          onSample={choose}
          correct={correct}
        />
      )}
    </Loaded>
  );
}

function Chart({
  view,
  last,
  onLast,
  sample,
  onSample,
  correct,
}: {
  view: ChartView;
  correct: boolean;
  last: number;
  onLast: (last: number) => void;
  sample: string | null;
  onSample: (sample: string | null) => void;
}) {
  const navigate = useNavigate();
  const { characteristic: c } = view;
  const mayEnter = useMayAt('enter_sample', c.station_id);
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
          <Typography color="text.secondary">
            {c.product} · {c.station} · {CHART_PAGE.samplesInAll(view.total)}
          </Typography>
        </Box>
        {c.components.length > 0 && (
          <ToggleButton value="components" selected={traced} onChange={() => setTraced(!traced)}>
            {CHART_PAGE.components}
          </ToggleButton>
        )}
        <ToggleButtonGroup
          exclusive
          value={last}
          aria-label={CHART_PAGE.howMany}
          onChange={(_, value: number | null) => value !== null && onLast(value)}
        >
          {STRETCHES.map((s) => (
            <ToggleButton key={s} value={s}>
              {CHART_PAGE.last(s)}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <Button color="inherit" component={RouterLink} to={`/charts/${c.id}/look`}>
          {LOOKING.open}
        </Button>
        {mayEnter && (
          <Button variant="outlined" component={RouterLink} to={c.analyte == null ? `/rounds/${c.id}` : '/lab'}>
            {c.analyte == null ? CHART_PAGE.enterSample : CHART_PAGE.measureRun}
          </Button>
        )}
      </Stack>
      {view.look && (
        <Box sx={{ mb: 1.5 }}>
          <Notice kind="caution">
            {lookInWords(view.look)}{' '}
            <Link component={RouterLink} to={`/charts/${c.id}/limits`} color="inherit">
              {LOOK.toLimits}
            </Link>
          </Notice>
        </Box>
      )}
      {view.points.length === 0 ? (
        <Empty>{CHART_PAGE.noSample}</Empty>
      ) : (
        <Box
          sx={{
            display: { xs: 'flex', lg: 'grid' },
            flexDirection: 'column',
            gridTemplateColumns: 'minmax(0, 1fr) 312px',
            gap: 2,
            alignItems: { xs: 'stretch', lg: 'start' },
          }}
        >
          <Paper component="section" aria-label={CHART_PAGE.title} sx={{ p: 1.5, pt: 1 }}>
            <ControlChart
              model={model}
              height={540}
              selected={selected}
              onSelect={(point) => onSample(point === null ? null : String(view.points[point]?.number ?? ''))}
              onOpenEpisode={(episode) => void navigate(`/signals/${episode}`)}
            />
            <Typography color="text.secondary" variant="body2" sx={{ mt: 1 }}>
              <KeyHints hints={CHART_KEYS} />
            </Typography>
          </Paper>
          {/* Where it would stand below the chart, the card of a point lies over its lower part. */}
          <Stack
            spacing={2}
            sx={
              selected === null
                ? {}
                : {
                    position: { xs: 'sticky', lg: 'static' },
                    bottom: 8,
                    zIndex: 2,
                    maxHeight: { xs: '62vh', lg: 'none' },
                    overflowY: { xs: 'auto', lg: 'visible' },
                  }
            }
          >
            {selected === null ? (
              <>
                <Figures view={view} />
                <TrustCheck id={view.characteristic.id} />
              </>
            ) : (
              <PointCard key={view.points[selected]?.sample} view={view} place={selected} correct={correct} />
            )}
          </Stack>
        </Box>
      )}
    </Box>
  );
}

/** The figures beside the chart: what the limits are, and where they come from. */
function Figures({ view }: { view: ChartView }) {
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
        sx={{ mt: 1.5 }}
      >
        {LIMITS.toLimits}
      </Button>
      <Typography color="text.secondary" sx={{ mt: 1.5 }}>
        {CHART_PAGE.choosePoint}{' '}
        <Link component={RouterLink} to="/signals">
          {CHART_PAGE.allSignals}
        </Link>
      </Typography>
    </Paper>
  );
}
