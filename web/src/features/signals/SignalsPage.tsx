import { Box, Link, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import type { GridColDef } from '@mui/x-data-grid';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink, useSearchParams } from 'react-router';
import type { SignalState, SignalView } from '../../api/client';
import { queries } from '../../api/queries';
import { StateMark } from '../../ui/StateMark';
import { List } from '../../ui/List';
import { Empty, Loaded } from '../../ui/States';
import { SIGNALS_LIST, standing } from '../../words/signalPages';
import { sentence } from '../../words/signals';
import { when } from '../../words/time';

const FILTERS: readonly (SignalState | 'all')[] = ['open', 'answered', 'reviewed', 'all'];

const COLUMNS: GridColDef<SignalView>[] = [
  {
    field: 'state',
    headerName: SIGNALS_LIST.columns.state,
    width: 130,
    renderCell: ({ row }) => <StateMark state={row.state} />,
  },
  {
    field: 'sentence',
    headerName: SIGNALS_LIST.columns.sentence,
    flex: 2,
    minWidth: 280,
    valueGetter: (_, row) => sentence(row),
    renderCell: ({ row, value }) => (
      <Link component={RouterLink} to={`/signals/${row.id}`} sx={{ color: 'text.primary' }}>
        {value}
      </Link>
    ),
  },
  {
    field: 'name',
    headerName: SIGNALS_LIST.columns.where,
    flex: 1,
    minWidth: 190,
    valueGetter: (_, row) => `${row.name}, ${row.station}`,
  },
  {
    field: 'raised_at',
    headerName: SIGNALS_LIST.columns.raised,
    width: 150,
    valueFormatter: (value: string) => when(value),
  },
  {
    field: 'standing',
    headerName: SIGNALS_LIST.columns.answer,
    flex: 1,
    minWidth: 190,
    valueGetter: (_, row) => standing(row),
  },
];

export default function SignalsPage() {
  const [params, setParams] = useSearchParams();
  const asked = params.get('state');
  const filter = FILTERS.find((f) => f === asked) ?? 'open';
  const query = useQuery(queries.signals(filter));
  return (
    <Box>
      <Box sx={{ display: 'flex', gap: 3, alignItems: 'center', mb: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h1">{SIGNALS_LIST.title}</Typography>
        <ToggleButtonGroup
          exclusive
          value={filter}
          aria-label={SIGNALS_LIST.which}
          onChange={(_, value: string | null) => value && setParams({ state: value })}
        >
          {FILTERS.map((f) => (
            <ToggleButton key={f} value={f}>
              {SIGNALS_LIST.filters[f]}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      </Box>
      <Loaded query={query} what={SIGNALS_LIST.signals}>
        {(signals) =>
          signals.length === 0 ? (
            <Empty>{SIGNALS_LIST.nothing[filter]}</Empty>
          ) : (
            <List label={SIGNALS_LIST.title} rows={signals} columns={COLUMNS} rowId={(signal) => signal.id} />
          )
        }
      </Loaded>
    </Box>
  );
}
