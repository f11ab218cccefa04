import { Box } from '@mui/material';
import type { SignalState } from '../api/client';
import { STATES } from '../words/signals';

/** The state of an episode: the fill of its bar in the signal lane, and its word. */
export function StateMark({ state }: { state: SignalState }) {
  return (
    <Box component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 1, whiteSpace: 'nowrap' }}>
      <Box
        aria-hidden
        component="span"
        sx={(theme) => {
          const ink = theme.palette.error.main;
          const fill = {
            sent_back: ink,
            open: ink,
            found_late: `linear-gradient(to right, ${ink} 50%, transparent 50%)`,
            answered: `repeating-linear-gradient(135deg, ${ink} 0 2px, transparent 2px 5px)`,
            reviewed: 'transparent',
          }[state];
          return { width: 22, height: 10, border: `1.5px solid ${ink}`, background: fill };
        }}
      />
      {STATES[state]}
    </Box>
  );
}
