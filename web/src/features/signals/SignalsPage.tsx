import { Box, Link, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import type { GridColDef } from '@mui/x-data-grid';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink, useSearchParams } from 'react-router';
import type { SignalState, SignalView } from '../../api/client';
import { queries } from '../../api/queries';
import { StateMark } from '../../ui/StateMark';
import { List } from '../../ui/List';
import { Empty, Loaded } from '../../ui/States';
import { DECISIONS, sentence, STATES } from '../../words/signals';
import { ago, when } from '../../words/time';

const FILTERS: readonly (SignalState | 'all')[] = ['open', 'answered', 'reviewed', 'all'];

const NOTHING: Record<SignalState | 'all', string> = {
  open: 'No signal waits for an answer.',
  answered: 'No answer waits for review.',
  reviewed: 'Nothing has been reviewed yet.',
  all: 'No rule has been broken yet.',
};

function standing(signal: SignalView): string {
  const last = signal.answers[signal.answers.length - 1];
  if (!last) return `open for ${ago(signal.raised_at)}`;
  const review = last.review;
  if (review?.decision === 'sent_back') return `Sent back: ${review.remark ?? ''}`;
  return `${last.cause ?? 'Nothing found'}${review ? ` · ${DECISIONS[review.decision]}` : ''}`;
}

const COLUMNS: GridColDef<SignalView>[] = [
  { field: 'state', headerName: 'State', width: 130, renderCell: ({ row }) => <StateMark state={row.state} /> },
  {
    field: 'sentence',
    headerName: 'What the points did',
    flex: 2,
    minWidth: 280,
    valueGetter: (_, row) => sentence(row),
    renderCell: ({ row, value }) => (
      <Link component={RouterLink} to={`/signals/${row.id}`} sx={{ color: 'text.primary' }}>{value}</Link>
    ),
  },
  { field: 'name', headerName: 'Where', flex: 1, minWidth: 190, valueGetter: (_, row) => `${row.name}, ${row.station}` },
  { field: 'raised_at', headerName: 'Raised', width: 150, valueFormatter: (value: string) => when(value) },
  { field: 'standing', headerName: 'Answer', flex: 1, minWidth: 190, valueGetter: (_, row) => standing(row) },
];

export default function SignalsPage() {
  const [params, setParams] = useSearchParams();
  const asked = params.get('state');
  const filter = FILTERS.find((f) => f === asked) ?? 'open';
  const query = useQuery(queries.signals(filter));
  return (
    <Box>
      <Box sx={{ display: 'flex', gap: 3, alignItems: 'center', mb: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h1">Signals</Typography>
        <ToggleButtonGroup exclusive value={filter} aria-label="Which signals" onChange={(_, value: string | null) => value && setParams({ state: value })}>
          {FILTERS.map((f) => (
            <ToggleButton key={f} value={f}>
              {f === 'answered' ? 'To review' : f === 'all' ? 'All' : STATES[f]}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      </Box>
      <Loaded query={query} what="the signals">
        {(signals) =>
          signals.length === 0 ? (
            <Empty>{NOTHING[filter]}</Empty>
          ) : (
            <List label="Signals" rows={signals} columns={COLUMNS} rowId={(signal) => signal.id} />
          )
        }
      </Loaded>
    </Box>
  );
}
