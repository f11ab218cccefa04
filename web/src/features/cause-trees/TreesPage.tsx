import { Box, Button, Link, Stack, Typography } from '@mui/material';
import type { GridColDef } from '@mui/x-data-grid';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import type { CauseTreeRow } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { List } from '../../ui/List';
import { Empty, Loaded } from '../../ui/States';
import { TREES } from '../../words/trees';

/** Problems that were taken apart, the latest first. */
export default function TreesPage() {
  const query = useQuery(queries.causeTrees);
  const mayStart = useMay('keep_study');
  return (
    <Box sx={{ maxWidth: 1200, mx: 'auto' }}>
      <Stack direction="row" sx={{ gap: 1, mb: 1.5, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {TREES.title}
        </Typography>
        {mayStart && (
          <Button variant="outlined" component={RouterLink} to="/cause-trees/new">
            {TREES.start}
          </Button>
        )}
      </Stack>
      <Loaded query={query} what={TREES.what}>
        {(trees) =>
          trees.length === 0 ? (
            <Empty>{TREES.none}</Empty>
          ) : (
            <List label={TREES.title} rows={trees} columns={COLUMNS} rowId={({ id }) => id} />
          )
        }
      </Loaded>
    </Box>
  );
}

const COLUMNS: readonly GridColDef<CauseTreeRow>[] = [
  {
    field: 'name',
    headerName: TREES.columns.name,
    flex: 3,
    minWidth: 240,
    renderCell: ({ row }) => (
      <Box>
        <Link component={RouterLink} to={`/cause-trees/${row.id}`}>
          {row.name}
        </Link>
        {row.what !== '' && (
          <Typography color="text.secondary" variant="body2">
            {row.what}
          </Typography>
        )}
      </Box>
    ),
  },
  { field: 'about', headerName: TREES.columns.about, flex: 2, minWidth: 160 },
  {
    field: 'made_at',
    headerName: TREES.columns.made,
    flex: 1.3,
    minWidth: 150,
    renderCell: ({ row }) => TREES.made(row.made_at, row.made_by),
  },
  {
    field: 'ideas',
    headerName: TREES.columns.stands,
    flex: 2,
    minWidth: 180,
    renderCell: ({ row }) => TREES.stands(row),
  },
];
