import { Box, Typography } from '@mui/material';
import type { GridColDef } from '@mui/x-data-grid';
import { useQuery } from '@tanstack/react-query';
import type { TrailEntry } from '../../api/client';
import { queries } from '../../api/queries';
import { List } from '../../ui/List';
import { Empty, Loaded } from '../../ui/States';
import { when } from '../../words/time';
import { DEEDS, detailInWords, TRAIL } from '../../words/trail';

const { columns } = TRAIL;

const COLUMNS: GridColDef<TrailEntry>[] = [
  { field: 'at', headerName: columns.when, width: 170, valueFormatter: (value: string) => when(value) },
  { field: 'person', headerName: columns.who, width: 170, valueGetter: (_, row) => row.person ?? TRAIL.itself },
  { field: 'action', headerName: columns.what, width: 160, valueGetter: (_, row) => DEEDS[row.action] },
  {
    field: 'characteristic',
    headerName: columns.on,
    width: 230,
    valueGetter: (_, row) => (row.characteristic ? TRAIL.at(row.characteristic, row.station ?? '') : TRAIL.site),
  },
  {
    field: 'detail',
    headerName: columns.detail,
    flex: 1,
    minWidth: 240,
    valueGetter: (_, row) => detailInWords(row.detail),
  },
];

export default function TrailPage() {
  const query = useQuery(queries.trail);
  return (
    <Box>
      <Typography variant="h1">{TRAIL.title}</Typography>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        {TRAIL.about}
      </Typography>
      <Loaded query={query} what={TRAIL.trail}>
        {(entries) =>
          entries.length === 0 ? (
            <Empty>{TRAIL.nothing}</Empty>
          ) : (
            <List
              label={TRAIL.title}
              rows={entries}
              columns={COLUMNS}
              rowId={(entry) => `${entry.chain}/${entry.position}`}
            />
          )
        }
      </Loaded>
    </Box>
  );
}
