import { Box, Link, Paper, Stack, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { Link as RouterLink, useParams } from 'react-router';
import type { Arrange, ChartKind, Looked } from '../../api/client';
import { queries } from '../../api/queries';
import { ControlChart } from '../../chart/ControlChart';
import { fromDrawing } from '../../chart/fromDrawing';
import { Legend } from '../../chart/Legend';
import type { ChartModel } from '../../chart/model';
import { Notice } from '../../ui/Notice';
import { Pick } from '../../ui/Pick';
import { Empty, Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { LOOKING, patternsIn } from '../../words/looking';
import { capital, figure } from '../../words/numbers';
import { chartName, PRESETS } from '../../words/plan';
import { panelFigure, panelTitle, spanLabel } from '../../words/signals';

/** Multiples of sigma that limits are drawn at in the trade. */
const SIGMAS = [1.5, 2, 2.5, 3, 3.5, 4];

const LASTS = ['60', '200', '500', '2000'];

/** Points on another kind of chart, or split by a tag. The address says how; nothing is changed. */
export default function LookPage() {
  const { id = '' } = useParams();
  const { params, put: change } = useAddress();
  const of = (name: string) => params.get(name) ?? '';
  const put = (name: string, value: string) => change({ [name]: value });
  const how = {
    ...(of('chart') !== '' && { chart: of('chart') as ChartKind }),
    ...(of('tag') !== '' && { tag: of('tag'), arrange: (of('arrange') || 'side_by_side') as Arrange }),
    common: of('limits') === 'common',
    last: Number(of('last') || 200),
    ...(of('k') !== '' && { k: Number(of('k')) }),
    ...(of('rules') !== '' && { rules: of('rules') }),
    ...(of('defect') !== '' && { defect: of('defect') }),
  };
  const sets = useQuery(queries.ruleSets).data ?? [];
  const query = useQuery({ ...queries.look(id, how), placeholderData: keepPreviousData });
  return (
    <Loaded query={query} what={LOOKING.what}>
      {(looked) => (
        <Box>
          <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline', mb: 1, flexWrap: 'wrap' }}>
            <Box sx={{ flex: 1 }}>
              <Typography variant="h1">{LOOKING.title(looked.characteristic.name)}</Typography>
              <Typography color="text.secondary">
                {looked.characteristic.product} · {looked.characteristic.station}
              </Typography>
            </Box>
            <Link component={RouterLink} to={`/charts/${id}`}>
              {LOOKING.toChart}
            </Link>
          </Stack>
          <Notice kind="caution">{LOOKING.onlyLooking}</Notice>
          <Stack direction="row" sx={{ gap: 1.5, my: 1.5, flexWrap: 'wrap' }}>
            <Pick
              label={LOOKING.chart}
              value={of('chart')}
              onPick={(value) => put('chart', value)}
              options={[
                ['', LOOKING.ownChart(chartName(looked.characteristic.chart))],
                ...looked.charts
                  .filter((chart) => chart !== looked.characteristic.chart)
                  .map((chart) => [chart, chartName(chart)] as const),
              ]}
            />
            <Pick
              label={LOOKING.k}
              value={of('k')}
              onPick={(value) => put('k', value)}
              options={[
                ['', LOOKING.ownK(looked.characteristic.k)],
                ...SIGMAS.filter((k) => k !== looked.characteristic.k).map(
                  (k) => [String(k), LOOKING.atSigma(k)] as const,
                ),
              ]}
            />
            <Pick
              label={LOOKING.rules}
              value={of('rules')}
              onPick={(value) => put('rules', value)}
              options={[
                ['', LOOKING.ownRules],
                ...Object.entries(PRESETS),
                ...sets.map(({ id: set, name }) => [set, name] as const),
              ]}
            />
            {looked.defects.length > 0 && (
              <Pick
                label={LOOKING.defect}
                value={of('defect')}
                onPick={(value) => put('defect', value)}
                options={[
                  ['', LOOKING.allDefects],
                  ...[...new Set([...looked.defects, of('defect')])]
                    .filter((defect) => defect !== '')
                    .map((defect) => [defect, defect] as const),
                ]}
              />
            )}
            <Pick
              label={LOOKING.tag}
              value={of('tag')}
              onPick={(value) => put('tag', value)}
              options={[['', LOOKING.noTag], ...looked.tags.map((tag) => [tag, capital(tag)] as const)]}
            />
            {how.tag !== undefined && (
              <Pick
                label={LOOKING.arrange}
                value={how.arrange ?? 'side_by_side'}
                onPick={(value) => put('arrange', value)}
                options={Object.entries(LOOKING.arranges)}
              />
            )}
            {how.tag !== undefined && how.arrange !== 'marks' && (
              <Pick
                label={LOOKING.limits}
                value={how.common ? 'common' : 'own'}
                onPick={(value) => put('limits', value === 'common' ? value : '')}
                options={Object.entries(LOOKING.whose)}
              />
            )}
            <Pick
              label={LOOKING.last}
              value={String(how.last)}
              onPick={(value) => put('last', value)}
              options={LASTS.map((n) => [n, LOOKING.lastOf(Number(n))] as const)}
            />
          </Stack>
          {looked.drawings.length === 0 ? <Empty>{LOOKING.none}</Empty> : <Drawings looked={looked} />}
          {looked.left_out > 0 && (
            <Typography color="text.secondary" sx={{ mt: 1 }}>
              {LOOKING.leftOut(looked.left_out)}
            </Typography>
          )}
        </Box>
      )}
    </Loaded>
  );
}

function Drawings({ looked }: { looked: Looked }) {
  const several = looked.drawings.length > 1;
  return (
    <>
      <Box
        sx={{
          display: 'grid',
          gap: 1.5,
          gridTemplateColumns: several ? { xs: 'minmax(0, 1fr)', lg: 'repeat(2, minmax(0, 1fr))' } : 'minmax(0, 1fr)',
        }}
      >
        {looked.drawings.map((drawn) => (
          <OneDrawing key={drawn.value ?? ''} looked={looked} drawn={drawn} height={several ? 300 : 460} />
        ))}
      </Box>
      <Figures looked={looked} />
    </>
  );
}

function OneDrawing({ looked, drawn, height }: { looked: Looked; drawn: Looked['drawings'][number]; height: number }) {
  const model = useMemo(() => modelOf(looked, drawn), [looked, drawn]);
  return (
    <Paper component="section" aria-label={drawn.value ?? chartName(looked.chart)} sx={{ p: 1.5, pt: 1, minWidth: 0 }}>
      {drawn.value != null && <Typography variant="h2">{drawn.value}</Typography>}
      {drawn.values.length > 0 && <Legend values={drawn.values} />}
      <ControlChart model={model} height={height} />
    </Paper>
  );
}

function modelOf(looked: Looked, drawn: Looked['drawings'][number]): ChartModel {
  const { characteristic: c, chart, ranges } = looked;
  return {
    title: drawn.value == null ? `${c.name}, ${c.station}` : `${c.name}, ${drawn.value}`,
    decimals: c.decimals,
    unit: c.unit,
    panelTitle: (statistic) => panelTitle(statistic, { ...c, chart }),
    ...fromDrawing(drawn),
    panels: drawn.panels.map((panel) => {
      const range = ranges.find(({ statistic }) => statistic === panel.statistic);
      return { ...panel, range: range && [range.lowest, range.highest] };
    }),
    periods: drawn.stretches.map(({ start, end, value, used, figures }) => ({
      start,
      end,
      name: [drawn.value == null ? value : null, LOOKING.points(used), figures == null ? LOOKING.tooFew : null]
        .filter((word) => word != null)
        .join(' · '),
      state: null,
    })),
    told: drawn.marks.length > 0 ? drawn.marks.map((mark) => mark ?? null) : undefined,
    // Beside one another rings alone are drawn: lanes of different heights would leave no common scale.
    spans: (drawn.value == null ? drawn.patterns : []).map((pattern, i) => ({
      ...pattern,
      id: String(i),
      label: spanLabel(pattern.rule, pattern.side, pattern.panel),
      state: 'reviewed' as const,
    })),
  };
}

/** What the values come to, side by side in figures. */
function Figures({ looked }: { looked: Looked }) {
  const { decimals, kind } = looked.characteristic;
  const [panel] = looked.drawings[0]?.panels ?? [];
  const stretches = looked.drawings.flatMap((drawn) => drawn.stretches.map((stretch) => ({ drawn, stretch })));
  if (stretches.length < 2 || !panel) return null;
  const centred = looked.chart === 'np' ? 'proportion' : panel.statistic;
  return (
    <Paper component="section" aria-label={LOOKING.figures} sx={{ p: 2, mt: 1.5, overflowX: 'auto' }}>
      <Table size="small" sx={{ '& td, & th': { fontVariantNumeric: 'tabular-nums' } }}>
        <TableHead>
          <TableRow>
            <TableCell>{LOOKING.columns.value}</TableCell>
            <TableCell align="right">{LOOKING.columns.points}</TableCell>
            <TableCell align="right">{LOOKING.columns.centre}</TableCell>
            {kind === 'measured' && <TableCell align="right">{LOOKING.columns.sigma}</TableCell>}
            <TableCell align="right">{LOOKING.columns.patterns}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {stretches.map(({ drawn, stretch }) => (
            <TableRow key={stretch.value ?? ''}>
              <TableCell component="th" scope="row">
                {stretch.value}
              </TableCell>
              <TableCell align="right">{stretch.used}</TableCell>
              <TableCell align="right">{panelFigure(centred, stretch.figures?.center, decimals)}</TableCell>
              {kind === 'measured' && (
                <TableCell align="right">{figure(stretch.figures?.sigma, decimals + 2)}</TableCell>
              )}
              <TableCell align="right">{patternsIn(drawn, stretch.start, stretch.end)}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Paper>
  );
}
