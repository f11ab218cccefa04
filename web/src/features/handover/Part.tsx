import { Box, Paper, Typography } from '@mui/material';
import type { ReactNode } from 'react';

/** A part of the handover: what there is in a line each, or that there is nothing in its title alone. */
export function Part({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <Paper component="section" aria-label={title} sx={{ px: 2, py: 1.25 }}>
      <Typography variant="h2">{title}</Typography>
      {children}
    </Paper>
  );
}

interface Line {
  key: string;
  mark?: ReactNode;
  what: ReactNode;
  about: string;
  aside: string;
}

/** Lines, each with its mark, what it is about, and at the right when, who or how it stands. */
export function Lines({ lines }: { lines: readonly Line[] }) {
  if (lines.length === 0) return null;
  return (
    <Box component="ul" sx={{ m: 0, mt: 0.5, p: 0, listStyle: 'none' }}>
      {lines.map(({ key, mark, what, about, aside }) => (
        <Box
          key={key}
          component="li"
          sx={{
            display: 'grid',
            gridTemplateColumns: {
              xs: '1fr',
              sm: `${mark === undefined ? '' : '116px '}minmax(0, 1fr) minmax(170px, 28%)`,
            },
            alignItems: 'start',
            columnGap: 2,
            py: 0.75,
            borderTop: 1,
            borderColor: 'divider',
            breakInside: 'avoid',
          }}
        >
          {mark}
          <Box sx={{ overflowWrap: 'anywhere' }}>
            {what}
            <Typography color="text.secondary" variant="body2">
              {about}
            </Typography>
          </Box>
          <Typography color="text.secondary" variant="body2" sx={{ overflowWrap: 'anywhere' }}>
            {aside}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}
