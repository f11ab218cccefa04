import { Box, Link } from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { Stop } from '../../api/client';
import { openEpisodes } from '../../words/charts';
import { ROUND, stopInWords } from '../../words/rounds';
import { taking } from '../../words/samples';

/** How a stop stands, in words and with a shape. */
function Standing({ stop, now }: { stop: Stop; now: number }) {
  return (
    <Box
      component="span"
      sx={({ palette }) =>
        ({
          overdue: { color: palette.warning.main, fontWeight: 650 },
          due: { fontWeight: 650 },
          done: { color: palette.settled },
        })[stop.state]
      }
    >
      {stopInWords(stop, now)}
    </Box>
  );
}

/** One characteristic on the round. */
export function StopRow({
  stop,
  place,
  now,
  next,
  waits,
}: {
  stop: Stop;
  /** The station, where the list does not say it. */
  place?: string;
  now: number;
  /** The most urgent one. */
  next: boolean;
  /** How many entries of it are still on this device. */
  waits: number;
}) {
  return (
    <Link
      component={RouterLink}
      to={stop.in_runs ? '/lab' : `/rounds/${stop.id}`}
      underline="none"
      data-state={stop.state}
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', sm: 'minmax(0, 1.2fr) 130px minmax(200px, 1fr) 150px' },
        columnGap: 2,
        alignItems: 'center',
        minHeight: 56,
        px: 2,
        py: { xs: 1, sm: 0 },
        color: 'text.primary',
        borderTop: 1,
        borderColor: 'divider',
        '&:hover': { bgcolor: 'action.hover' },
      }}
    >
      <span>
        <Box component="span" sx={{ fontWeight: 600, fontSize: '1.08rem' }}>
          {stop.name}
        </Box>
        <Box component="span" sx={{ color: 'text.secondary' }}>
          {' '}
          · {stop.product}
          {place !== undefined && ` · ${place}`}
        </Box>
      </span>
      <Box component="span" sx={{ color: 'text.secondary' }}>
        {taking(stop)}
      </Box>
      <span>
        {waits > 0 ? (
          <Box component="span" sx={{ color: 'warning.main', fontWeight: 650 }}>
            {ROUND.waitsHere}
          </Box>
        ) : (
          <Standing stop={stop} now={now} />
        )}
        {next && (
          <Box component="kbd" sx={{ ml: 1.5, px: 0.8, border: 1, borderColor: 'text.secondary', borderRadius: 0.5 }}>
            N
          </Box>
        )}
      </span>
      <Box component="span" sx={{ color: 'error.main' }}>
        {stop.open_episodes > 0 && (
          <>
            <span aria-hidden>▬ </span>
            {openEpisodes(stop.open_episodes)}
          </>
        )}
      </Box>
    </Link>
  );
}
