import { Box } from '@mui/material';
import type { ReactNode } from 'react';
import type { Stop, WallView } from '../../api/client';
import { stopInWords } from '../../words/rounds';
import { WALL, waitsInWords } from '../../words/wall';

/** Since when a sample is due; what no clock tells of comes last. */
const dueSince = (stop: Stop) => (stop.due_at == null ? Infinity : Date.parse(stop.due_at));

/** So many of each have room. */
const ROOM = 5;

/** What waits for somebody: overdue samples, and episodes without an answer. */
export function Waiting({ wall, now }: { wall: WallView; now: number }) {
  const stops = wall.overdue.flatMap((station) => station.characteristics.map((stop) => ({ stop, at: station.name })));
  const overdue = stops
    .sort((a, b) => dueSince(a.stop) - dueSince(b.stop))
    .map(({ stop, at }) => (
      <Line key={stop.id} what={stop.name} where={at} how={stopInWords(stop, now)} ink="warning.main" />
    ));
  const open = wall.open.map((episode) => (
    <Line
      key={episode.id}
      what={episode.name}
      where={episode.station}
      how={waitsInWords(episode)}
      ink={episode.too_long ? 'error.main' : 'text.primary'}
    />
  ));
  return (
    <Box
      sx={{
        display: 'grid',
        gridAutoFlow: 'column',
        gridAutoColumns: '1fr',
        gap: '0.5em',
        height: '100%',
        '@media (orientation: portrait)': { gridAutoFlow: 'row', gridAutoRows: '1fr' },
      }}
    >
      {overdue.length > 0 && <List title={WALL.overdueTitle} lines={overdue} all={overdue.length} />}
      {open.length > 0 && <List title={WALL.openTitle} lines={open} all={wall.open_count} />}
    </Box>
  );
}

function List({ title, lines, all }: { title: string; lines: ReactNode[]; all: number }) {
  const shown = lines.slice(0, all > ROOM ? ROOM - 1 : ROOM);
  return (
    <Box component="section" aria-label={title} sx={{ bgcolor: 'background.paper', p: '0.3em 0.5em', minWidth: 0 }}>
      <Box component="h2" sx={{ m: 0, font: 'inherit', fontWeight: 650 }}>
        {title}
      </Box>
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {shown}
      </Box>
      {all > shown.length && <Box sx={{ mt: '0.3em', color: 'text.secondary' }}>{WALL.more(all - shown.length)}</Box>}
    </Box>
  );
}

function Line({ what, where, how, ink }: { what: string; where: string; how: string; ink: string }) {
  const cut = { whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' } as const;
  return (
    <Box component="li" sx={{ borderTop: '0.05em solid', borderColor: 'divider', py: '0.2em', lineHeight: 1.15 }}>
      <Box sx={cut}>
        <b>{what}</b> · {where}
      </Box>
      <Box sx={{ ...cut, color: ink }}>{how}</Box>
    </Box>
  );
}
