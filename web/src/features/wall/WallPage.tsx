import { Box, CssBaseline, ThemeProvider } from '@mui/material';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { WallView } from '../../api/client';
import { isFailure } from '../../api/failure';
import { useSize } from '../../plot/useSize';
import { makeTheme } from '../../ui/theme';
import { Loaded } from '../../ui/States';
import { atClock } from '../../words/time';
import { WALL } from '../../words/wall';
import { worse } from '../charts';
import { columnsOf, paged, sizeOf } from './layout';
import { useTurn } from './useTurn';
import { useWall, WALL_AGAIN_MS } from './useWall';
import { Waiting } from './Waiting';
import { WallChart } from './WallChart';

/** What a monitor in the hall shows. Its token stands behind the # of the address, which is sent to no server. */
export default function WallPage() {
  const [token, setToken] = useState(ofAddress);
  useEffect(() => {
    const look = () => setToken(ofAddress());
    window.addEventListener('hashchange', look);
    return () => window.removeEventListener('hashchange', look);
  }, []);
  return token === '' ? <Sentence>{WALL.noToken}</Sentence> : <Display key={token} token={token} />;
}

const ofAddress = () => window.location.hash.slice(1);

function Sentence({ children }: { children: string }) {
  return (
    <Box component="main" sx={{ p: '6vmin', fontSize: 'max(18px, 2.95vmin)' }}>
      {children}
    </Box>
  );
}

/** After this long without an answer it says how old it is. */
const OLD_MS = 2 * WALL_AGAIN_MS;
/** So often the page itself is loaded again, so that it is as new as the server. */
const PAGE_MS = 6 * 3_600_000;

function Display({ token }: { token: string }) {
  const query = useWall(token);
  const { data, dataUpdatedAt: answeredAt, isError } = query;
  const now = useNow();
  const [since] = useState(Date.now);
  useAwake();
  const fresh = data !== undefined && !isError && now - answeredAt < OLD_MS;
  useEffect(() => {
    if (fresh && now - since > PAGE_MS) window.location.reload();
  }, [fresh, now, since]);
  if (isFailure(query.error, 'unknown_token')) return <Sentence>{WALL.refused}</Sentence>;
  return (
    // How old it is, the board says itself, in writing that is read from afar.
    <Loaded query={{ ...query, isError: false }} what={WALL.wall}>
      {(wall) => <Board wall={wall} now={now} asOf={fresh ? null : answeredAt} />}
    </Loaded>
  );
}

/** The time, every few seconds. */
function useNow(): number {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), 5000);
    return () => window.clearInterval(timer);
  }, []);
  return now;
}

/** The monitor does not go dark, where the browser lets a page ask for that. */
function useAwake() {
  useEffect(() => {
    const ask = () => {
      // Only on a page that came by TLS or from this machine.
      if (document.visibilityState === 'visible' && 'wakeLock' in navigator)
        navigator.wakeLock.request('screen').catch(() => undefined);
    };
    ask();
    document.addEventListener('visibilitychange', ask);
    return () => document.removeEventListener('visibilitychange', ask);
  }, []);
}

/** Size of the writing within reach of a hand, in pixels; lines grow with it. */
const WITHIN_REACH = 19;

function Board({ wall, now, asOf }: { wall: WallView; now: number; asOf: number | null }) {
  const theme = useMemo(() => makeTheme(wall.dark ? 'dark' : 'light'), [wall.dark]);
  const box = useRef<HTMLDivElement>(null);
  const screen = useSize(box);
  const size = sizeOf(wall.at_a_time, screen);
  const columns = columnsOf(wall.at_a_time, screen);
  const charts = useMemo(() => paged([...wall.charts].sort(worse), wall.at_a_time), [wall.charts, wall.at_a_time]);
  const overdue = wall.overdue.reduce((sum, station) => sum + station.characteristics.length, 0);
  const waits = overdue > 0 || wall.open_count > 0;
  const pages = charts.length + (waits ? 1 : 0);
  const turn = useTurn(pages, wall.seconds);
  const shown = waits && turn.page === 0 ? null : (charts[turn.page - (waits ? 1 : 0)] ?? []);
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline enableColorScheme />
      <Box ref={box} aria-hidden sx={{ position: 'fixed', inset: 0, zIndex: -1 }} />
      <Box
        component="main"
        aria-label={WALL.title}
        onClick={turn.hold}
        sx={{
          height: '100vh',
          overflow: 'auto',
          boxSizing: 'border-box',
          p: '0.35em 0.5em',
          display: 'grid',
          gridTemplateRows: 'auto 1fr auto',
          gap: '0.3em',
          fontSize: `${size}px`,
        }}
      >
        <Box
          component="header"
          sx={{ display: 'flex', flexWrap: 'wrap', columnGap: '0.8em', alignItems: 'baseline', lineHeight: 1.2 }}
        >
          <Box component="h1" sx={{ m: 0, font: 'inherit', fontWeight: 650, flex: '1 1 auto' }}>
            {wall.name}
          </Box>
          <Box component="span" sx={{ color: overdue > 0 ? 'warning.main' : 'settled', fontWeight: 650 }}>
            {WALL.overdue(overdue)}
          </Box>
          <Box component="span" sx={{ color: wall.open_count > 0 ? 'error.main' : 'settled', fontWeight: 650 }}>
            {WALL.open(wall.open_count)}
          </Box>
          <span>{atClock(now)}</span>
        </Box>
        {pages === 0 ? (
          <p>{WALL.nothingToChart}</p>
        ) : shown === null ? (
          <Waiting wall={wall} now={now} />
        ) : (
          <Box
            component="section"
            aria-label={WALL.charts}
            sx={{
              minHeight: 0,
              display: 'grid',
              gap: '0.3em',
              gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`,
              gridTemplateRows: `repeat(${Math.ceil(wall.at_a_time / columns)}, minmax(5em, 1fr))`,
            }}
          >
            {shown.map((chart) => (
              <WallChart key={chart.id} chart={chart} bold={size / WITHIN_REACH} />
            ))}
          </Box>
        )}
        <Box component="footer" sx={{ display: 'flex', gap: '0.5em', alignItems: 'center', lineHeight: 1.1 }}>
          {asOf !== null && (
            <Box role="alert" sx={{ color: 'warning.main', fontWeight: 650, flex: 1 }}>
              ◆ {WALL.asOf(asOf)}
            </Box>
          )}
          {asOf === null && <Places pages={pages} page={turn.page} held={turn.held} />}
        </Box>
      </Box>
    </ThemeProvider>
  );
}

/** Which of the pages is shown. */
function Places({ pages, page, held }: { pages: number; page: number; held: boolean }) {
  if (pages < 2) return null;
  return (
    <>
      <Box aria-hidden sx={{ flex: 1, display: 'flex', gap: '0.15em' }}>
        {Array.from({ length: pages }, (_, i) => (
          <Box key={i} sx={{ flex: 1, height: '0.14em', bgcolor: i === page ? 'text.primary' : 'divider' }} />
        ))}
      </Box>
      {held && <span>{WALL.held}</span>}
      <Box component="span" sx={{ color: 'text.secondary' }}>
        {WALL.page(page + 1, pages)}
      </Box>
    </>
  );
}
