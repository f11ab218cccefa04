import { Box, Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import { waitForAnswer } from '../../words/signals';
import { openSignals } from './openSignals';

/** Signals that wait for an answer, said where the work is. */
export function OpenSignals({ of }: { of: readonly string[] }) {
  const open = useQuery(openSignals);
  const waiting = (open.data ?? []).filter((signal) => of.includes(signal.characteristic));
  // The latest was raised last; whoever answers begins with what has waited longest.
  const first = waiting[waiting.length - 1];
  if (!first) return null;
  return (
    <Box role="status" sx={{ display: 'flex', alignItems: 'center', gap: 1, borderLeft: 4, borderColor: 'error.main', pl: 1.5, my: 1, bgcolor: 'background.paper' }}>
      <Box sx={{ flex: 1 }}>
        <Box component="span" aria-hidden sx={{ color: 'error.main' }}>▬ </Box>
        {waitForAnswer(waiting.length)}
      </Box>
      <Button component={RouterLink} to={`/signals/${first.id}`} sx={{ minHeight: 48 }}>Answer</Button>
    </Box>
  );
}
