import { Box } from '@mui/material';
import { lazy, Suspense, useMemo } from 'react';
import type { ChartPoint, ChartView } from '../../api/chart';
import { type ChartModel, linesAt } from '../../chart/model';
import type { Window } from '../../plot/places';
import { Notice } from '../../ui/Notice';
import { Loading } from '../../ui/States';
import { SEEN } from '../../words/reading';
import { recorded } from '../../words/samples';
import { panelFigure, panelName } from '../../words/signals';
import { when } from '../../words/time';

// The data grid is large, and seldom looked at here.
const List = lazy(() => import('../../ui/List').then(({ List }) => ({ default: List<Row> })));

interface Row {
  point: ChartPoint;
  at: number;
}

interface Props {
  view: ChartView;
  model: ChartModel;
  close: Window | null;
}

/** The points that are looked at, as a table. */
export function PointsTable({ view, model, close }: Props) {
  const { characteristic: c, panels, points } = view;
  const numbers = useMemo(
    () =>
      new Set(
        model.number.filter((_, mark) => {
          const place = model.place[mark] ?? 0;
          return close === null || (place >= close.from && place <= close.to);
        }),
      ),
    [model, close],
  );
  const rows = useMemo(
    () => points.flatMap((point, at): Row[] => (numbers.has(point.number) ? [{ point, at }] : [])).reverse(),
    [points, numbers],
  );
  const flagged = useMemo(() => new Set(panels.flatMap((panel) => panel.flagged)), [panels]);
  if (points.length === 0) return <Notice kind="caution">{SEEN.tooManyForTable}</Notice>;
  return (
    <Box component="section" aria-label={SEEN.table} sx={{ mt: 1.5 }}>
      <Suspense fallback={<Loading what={SEEN.theTable} />}>
        <List
          label={SEEN.table}
          rows={rows}
          rowId={({ point }) => point.sample}
          columns={[
            {
              field: 'number',
              headerName: SEEN.columns.number,
              width: 90,
              valueGetter: (_, { point }) => point.number,
            },
            {
              field: 'taken',
              headerName: SEEN.columns.taken,
              width: 150,
              valueGetter: (_, { point }) => Date.parse(point.taken_at),
              valueFormatter: (value: number) => when(value),
            },
            {
              field: 'recorded',
              headerName: SEEN.columns.recorded,
              minWidth: 180,
              flex: 1,
              sortable: false,
              valueGetter: (_, { point }) => recorded(point, c),
            },
            ...panels.map((panel) => ({
              field: panel.statistic,
              headerName: panelName(panel.statistic),
              width: 200,
              valueGetter: (_: unknown, { at }: Row) => panel.value[at] ?? null,
              renderCell: ({ row: { at } }: { row: Row }) => {
                const lines = linesAt(panel, at);
                const of = (value: number | null | undefined) => panelFigure(panel.statistic, value, c.decimals);
                if (panel.value[at] == null) return '–';
                return SEEN.within(of(panel.value[at]), of(lines?.lower), of(lines?.upper));
              },
            })),
            {
              field: 'flagged',
              headerName: SEEN.columns.flagged,
              width: 100,
              valueGetter: (_, { at }) => (flagged.has(at) ? SEEN.isFlagged : ''),
            },
            {
              field: 'person',
              headerName: SEEN.columns.person,
              width: 150,
              valueGetter: (_, { point }) => point.person,
            },
            {
              field: 'tags',
              headerName: SEEN.columns.tags,
              minWidth: 140,
              flex: 1,
              valueGetter: (_, { point }) =>
                Object.entries(point.tags)
                  .map(([name, value]) => `${name} ${value}`)
                  .join(' · '),
            },
          ]}
        />
      </Suspense>
    </Box>
  );
}
