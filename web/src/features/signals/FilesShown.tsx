import { Box, Link } from '@mui/material';
import type { FileView } from '../../api/client';
import { FILES } from '../../words/signalPages';

/** Photos and documents of an answer: pictures to be seen, documents to be kept. */
export function FilesShown({ files }: { files: readonly FileView[] }) {
  if (files.length === 0) return null;
  return (
    <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', mt: 0.5 }}>
      {files.map(({ id, name, kind, bytes }) => (
        <Link key={id} href={`/api/files/${id}`} download={name} sx={{ overflowWrap: 'anywhere' }}>
          {kind === 'pdf' ? (
            `${name} (${FILES.size(bytes)})`
          ) : (
            <Box
              component="img"
              src={`/api/files/${id}`}
              alt={name}
              sx={{ display: 'block', maxHeight: 160, maxWidth: '100%' }}
            />
          )}
        </Link>
      ))}
    </Box>
  );
}
