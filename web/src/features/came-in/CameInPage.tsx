import { Box, Button, Link, Typography } from '@mui/material';
import type { GridColDef } from '@mui/x-data-grid';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import type { CameIn } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay, useOwnStations } from '../../session/session';
import { DayPick } from '../../ui/DayPick';
import type { Options } from '../../ui/fields';
import { List } from '../../ui/List';
import { anyOf } from '../../ui/narrowing';
import { Pick } from '../../ui/Pick';
import { StateMark } from '../../ui/StateMark';
import { Empty, Loaded } from '../../ui/States';
import { useAddress, without } from '../../ui/useAddress';
import { BECAME, CAME_IN, becameOf, cameLater } from '../../words/cameIn';
import { WHOSE } from '../../words/people';
import { recorded } from '../../words/samples';
import { FILTER } from '../../words/signalPages';
import { when } from '../../words/time';
import { type Narrow, NARROWS, askedOf } from './asked';

const COLUMNS: GridColDef<CameIn>[] = [
  {
    field: 'taken_at',
    headerName: CAME_IN.columns.taken,
    width: 170,
    renderCell: ({ row }) => (
      <Box>
        {when(row.taken_at)}
        {cameLater(row) && (
          <Typography variant="body2" color="text.secondary">
            {CAME_IN.late(row.arrived_at)}
          </Typography>
        )}
      </Box>
    ),
  },
  {
    field: 'name',
    headerName: CAME_IN.columns.where,
    flex: 1,
    minWidth: 220,
    valueGetter: (_, row) => `${row.name}, ${row.product}, ${row.station}`,
  },
  {
    field: 'recorded',
    headerName: CAME_IN.columns.recorded,
    flex: 1,
    minWidth: 220,
    valueGetter: (_, row) => recorded(row, row),
    renderCell: ({ row, value }) => (
      <Link
        component={RouterLink}
        to={`/charts/${row.characteristic}?sample=${row.number}`}
        sx={{ color: 'text.primary', fontVariantNumeric: 'tabular-nums', whiteSpace: 'pre-wrap' }}
      >
        {value}
      </Link>
    ),
  },
  { field: 'person', headerName: CAME_IN.columns.person, width: 170 },
  {
    field: 'became',
    headerName: CAME_IN.columns.became,
    flex: 1,
    minWidth: 220,
    valueGetter: (_, row) => becameOf(row),
    renderCell: ({ row, value }) => (
      <Box sx={{ display: 'flex', gap: 1.5, rowGap: 0.25, flexWrap: 'wrap', alignItems: 'center' }}>
        {row.episode && (
          <Link component={RouterLink} to={`/signals/${row.episode.id}`} sx={{ color: 'text.primary' }}>
            <StateMark state={row.episode.state} />
          </Link>
        )}
        {value}
        {row.run && (
          <Link component={RouterLink} to={`/lab/runs/${row.run.id}`}>
            {CAME_IN.openRun(row.run.number)}
          </Link>
        )}
      </Box>
    ),
  },
];

/** Everything that came in, the last first: what a supervisor goes through who wants to see more than what is flagged. */
export default function CameInPage() {
  const { params } = useAddress();
  const query = useInfiniteQuery(queries.samples(askedOf(params)));
  return (
    <Box>
      <Typography variant="h1" sx={{ mb: 1 }}>
        {CAME_IN.title}
      </Typography>
      <Narrowing />
      <Loaded query={query} what={CAME_IN.what}>
        {({ pages }) =>
          pages[0]?.length === 0 ? (
            <Empty>{NARROWS.some((by) => params.has(by)) ? CAME_IN.nothingSuch : CAME_IN.nothing}</Empty>
          ) : (
            <>
              <List label={CAME_IN.title} rows={pages.flat()} columns={COLUMNS} rowId={(row) => row.sample} />
              {query.hasNextPage && (
                <Button sx={{ mt: 1 }} disabled={query.isFetchingNextPage} onClick={() => void query.fetchNextPage()}>
                  {CAME_IN.more}
                </Button>
              )}
            </>
          )
        }
      </Loaded>
    </Box>
  );
}

/** The address holds what narrows it, so that it can be sent and kept. */
function Narrowing() {
  const { params, put } = useAddress();
  const plan = useQuery(queries.plan).data;
  const people = useQuery({ ...queries.people, enabled: useMay('look') }).data;
  const own = useOwnStations();
  const set = (by: Narrow, to: string) => put({ [by]: to });
  const pick = (by: Narrow, label: string, options: Options<string>) => (
    <Pick label={label} value={params.get(by) ?? ''} options={options} onPick={(to) => set(by, to)} />
  );
  const day = (by: 'from' | 'until', label: string) => (
    <DayPick label={label} value={params.get(by) ?? ''} onPick={(to) => set(by, to)} />
  );
  return (
    <Box
      component="section"
      aria-label={CAME_IN.narrow}
      sx={{ display: 'flex', gap: 1.25, rowGap: 1.5, flexWrap: 'wrap', mb: 1.5, mt: 1 }}
    >
      {own !== null &&
        pick('everywhere', WHOSE.label, [
          ['', WHOSE.mine],
          ['true', WHOSE.all],
        ])}
      {pick('became', CAME_IN.became, [['', FILTER.any], ...Object.entries(BECAME)])}
      {pick('laboratory', FILTER.where, [
        ['', FILTER.any],
        ['false', FILTER.floor],
        ['true', FILTER.laboratory],
      ])}
      {pick('area', FILTER.area, anyOf(plan?.areas))}
      {pick('station', FILTER.station, anyOf(plan?.stations))}
      {pick('product', FILTER.product, anyOf(plan?.products))}
      {people && pick('person', FILTER.person, anyOf(people))}
      {day('from', CAME_IN.from)}
      {day('until', CAME_IN.until)}
      {NARROWS.some((by) => params.has(by)) && (
        <Button color="inherit" onClick={() => put(without(NARROWS))}>
          {FILTER.clear}
        </Button>
      )}
    </Box>
  );
}
