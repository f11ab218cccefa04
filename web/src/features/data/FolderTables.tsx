import { Box, Link, Typography } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { answered, api, type FolderTableView } from '../../api/client';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import { FOLDER_TABLES } from '../../words/data';
import { when } from '../../words/time';

/** Tables in watched folders, to be given a shape by hand; nothing where there are none. */
export function FolderTables() {
  const tables = useQuery(queries.folderTables).data ?? [];
  const navigate = useNavigate();
  const fetch = useMutation({
    mutationFn: ({ folder, place, name }: FolderTableView) =>
      answered(api.POST('/api/data/folders', { body: { folder, place, name } })),
    onSuccess: ({ id }) => void navigate(`/data/files/${id}`),
  });
  if (tables.length === 0) return null;
  return (
    <Box component="section" aria-labelledby="folder-tables" sx={{ mb: 2 }}>
      <Typography variant="h2" id="folder-tables">
        {FOLDER_TABLES.title}
      </Typography>
      <Failed why={fetch.error} />
      <Box
        component="ul"
        sx={{ m: 0, p: 0, listStyle: 'none', maxHeight: 264, overflowY: 'auto' }}
        tabIndex={0}
        aria-labelledby="folder-tables"
      >
        {tables.map((table) => (
          <Box
            component="li"
            key={`${table.folder}/${table.place}/${table.name}`}
            sx={{ display: 'flex', columnGap: 2, alignItems: 'center', flexWrap: 'wrap' }}
          >
            <Link
              component="button"
              type="button"
              disabled={fetch.isPending}
              onClick={() => fetch.mutate(table)}
              sx={{ minHeight: 48, overflowWrap: 'anywhere', textAlign: 'left' }}
            >
              {table.name}
            </Link>
            <Typography component="span" color="text.secondary">
              {table.folder}, {FOLDER_TABLES.place[table.place]}, {when(table.written_at)}
            </Typography>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
