import { Box, Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import { queries } from '../../api/queries';
import { waitForAnswer } from '../../words/episodes';
import { EPISODE } from '../../words/signalPages';

/** Episodes that wait for an answer, said where the work is. */
export function OpenEpisodes({ of }: { of: readonly string[] }) {
  const waiting = useQuery(queries.waiting);
  const here = (waiting.data ?? []).filter(({ characteristic }) => of.includes(characteristic));
  const [first] = here;
  if (!first) return null;
  const count = here.reduce((sum, episodes) => sum + episodes.count, 0);
  return (
    <Box
      role="status"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        borderLeft: 4,
        borderColor: 'error.main',
        pl: 1.5,
        my: 1,
        bgcolor: 'background.paper',
      }}
    >
      <Box sx={{ flex: 1 }}>
        <Box component="span" aria-hidden sx={{ color: 'error.main' }}>
          ▬{' '}
        </Box>
        {waitForAnswer(count)}
      </Box>
      <Button component={RouterLink} to={`/signals/${first.first}`} sx={{ minHeight: 48 }}>
        {EPISODE.answer}
      </Button>
    </Box>
  );
}
