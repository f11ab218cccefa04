import { Box } from '@mui/material';
import type { ReactNode } from 'react';

const MARKS = { problem: '▲', caution: '◆', settled: '✓', underWay: '…' } as const;

/** A sentence that wants to be seen, with a shape beside its colour. */
export function Notice({ kind, children }: { kind: keyof typeof MARKS; children: ReactNode }) {
  return (
    <Box
      role={kind === 'problem' ? 'alert' : 'status'}
      sx={(theme) => {
        const colour = {
          problem: theme.palette.error.main,
          caution: theme.palette.warning.main,
          settled: theme.palette.settled,
          underWay: theme.palette.text.secondary,
        }[kind];
        return {
          display: 'flex',
          gap: 1.25,
          borderLeft: `3px solid ${colour}`,
          pl: 1.5,
          py: 0.75,
          '& > span': { color: colour },
        };
      }}
    >
      <span aria-hidden>{MARKS[kind]}</span>
      <Box sx={{ minWidth: 0, flex: 1 }}>{children}</Box>
    </Box>
  );
}
