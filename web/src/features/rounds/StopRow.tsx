import { Box, Link } from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { Stop } from '../../api/client';
import { taking } from '../../words/samples';
import { atClock, stretch } from '../../words/time';

/** How a stop stands, in words and with a shape. */
function Standing({ stop, now }: { stop: Stop; now: number }) {
  const { due_at: at, pieces_left: left } = stop;
  const by = at == null ? '' : stretch(now - Date.parse(at));
  switch (stop.state) {
    case 'overdue':
      return (
        <Box component="span" sx={{ color: 'warning.main', fontWeight: 650 }}>
          ◆ overdue by {left == null ? by : `${-left} pieces`}
        </Box>
      );
    case 'due':
      return <Box component="span" sx={{ fontWeight: 650 }}>◇ due {at == null ? 'now' : `since ${atClock(at)}`}</Box>;
    case 'done':
      return <Box component="span" sx={(theme) => ({ color: theme.palette.settled })}>✓ done, {nextOne(stop)}</Box>;
  }
}

function nextOne({ due_at: at, pieces_left: left, sampling }: Stop): string {
  if (left != null) return `next in ${left} pieces`;
  if (sampling.every === 'lot') return 'next with a new lot';
  return at == null ? 'next in the shift' : `next at ${atClock(at)}`;
}

/** One characteristic on the round. */
export function StopRow({ stop, place, now, next, waits }: {
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
        <Box component="span" sx={{ fontWeight: 600, fontSize: '1.08rem' }}>{stop.name}</Box>
        <Box component="span" sx={{ color: 'text.secondary' }}> · {stop.product}{place !== undefined && ` · ${place}`}</Box>
      </span>
      <Box component="span" sx={{ color: 'text.secondary' }}>{taking(stop)}</Box>
      <span>
        {waits > 0 ? (
          <Box component="span" sx={{ color: 'warning.main', fontWeight: 650 }}>◆ entered, waits on this device</Box>
        ) : (
          <Standing stop={stop} now={now} />
        )}
        {next && <Box component="kbd" sx={{ ml: 1.5, px: 0.8, border: 1, borderColor: 'text.secondary', borderRadius: 0.5 }}>N</Box>}
      </span>
      <Box component="span" sx={{ color: 'error.main' }}>
        {stop.open_signals > 0 && <><span aria-hidden>▬ </span>{stop.open_signals} open {stop.open_signals === 1 ? 'signal' : 'signals'}</>}
      </Box>
    </Link>
  );
}
