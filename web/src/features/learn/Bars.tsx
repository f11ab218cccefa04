import { Box, Link, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import { Link as RouterLink } from 'react-router';

/** A figure that opens what is behind it. */
export function Behind({ to, children }: { to: string; children: ReactNode }) {
  return (
    <Link component={RouterLink} to={to} sx={{ color: 'text.primary' }}>
      {children}
    </Link>
  );
}

interface Bar {
  key: string;
  name: string;
  count: number;
  /** The episodes behind it, where a list can show them. */
  to: string | null;
  about?: string;
}

/** Counts by name, each with a bar of its length; the number says it too. */
export function Bars({ bars, most }: { bars: readonly Bar[]; most: number }) {
  return (
    <Box component="ul" sx={{ m: 0, mt: 0.5, p: 0, listStyle: 'none' }}>
      {bars.map(({ key, name, count, to, about }) => (
        <Box
          key={key}
          component="li"
          sx={{
            display: 'grid',
            gridTemplateColumns: { xs: 'minmax(120px, 40%) 44px 1fr', sm: 'minmax(190px, 34%) 44px 1fr' },
            gap: 1,
            alignItems: 'center',
            py: 0.5,
          }}
        >
          <Box sx={{ overflowWrap: 'anywhere' }}>
            {to === null ? <Typography>{name}</Typography> : <Behind to={to}>{name}</Behind>}
          </Box>
          <Typography sx={{ textAlign: 'right', fontWeight: 600 }}>{count}</Typography>
          <Box>
            <Box
              aria-hidden
              sx={{ height: 12, width: `${(100 * count) / most}%`, bgcolor: 'primary.main', opacity: 0.75 }}
            />
            {about !== undefined && (
              <Typography variant="body2" color="text.secondary">
                {about}
              </Typography>
            )}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
