import { AppBar, Box, Button, Link, Stack, type Theme, Typography, useMediaQuery } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { lazy, type ReactNode, Suspense } from 'react';
import { Link as RouterLink, useLocation } from 'react-router';
import type { Permission } from '../api/client';
import { useLive } from '../api/live';
import { queries } from '../api/queries';
import { useOutbox } from '../outbox/Outbox';
import { Notice } from '../ui/Notice';
import { FRAME } from '../words/app';
import { ROLES } from '../words/people';
import type { Mode } from '../ui/mode';
import { useAccess, useOwnStations, usePerson } from '../session/session';
import { useSharedTerminal } from '../session/sharedTerminal';
import { Bell } from './Bell';
import { More } from './More';
import { Shortcuts } from './Shortcuts';
import { OpenTooLong } from './OpenTooLong';
import { signIn } from './nextPages';

const SessionEnded = lazy(() => signIn().then((it) => ({ default: it.SessionEnded })));

const PLACES: readonly { to: string; name: string; who?: Permission }[] = [
  { to: '/rounds', name: FRAME.place.rounds, who: 'look' },
  { to: '/charts', name: FRAME.place.charts },
  { to: '/signals', name: FRAME.place.signals },
  { to: '/lab', name: FRAME.place.lab, who: 'look' },
  { to: '/handover', name: FRAME.place.handover, who: 'look' },
  { to: '/studies', name: FRAME.place.studies, who: 'read' },
  { to: '/data', name: FRAME.place.data, who: 'bring_in' },
  { to: '/reports', name: FRAME.place.reports, who: 'read' },
  { to: '/plan', name: FRAME.place.plan, who: 'set_up' },
  { to: '/trail', name: FRAME.place.trail, who: 'read_trail' },
  { to: '/people', name: FRAME.place.people, who: 'look_after_people' },
];

/** So many places have room on a phone. */
const ON_A_PHONE = 4;

function Place({ to, name, count }: { to: string; name: string; count?: number | undefined }) {
  const here = useLocation().pathname.startsWith(to);
  return (
    <Link
      component={RouterLink}
      to={to}
      underline="none"
      aria-current={here ? 'page' : undefined}
      sx={(theme) => ({
        color: 'text.primary',
        px: { xs: 1, xl: 1.75 },
        whiteSpace: 'nowrap',
        display: 'inline-flex',
        alignItems: 'center',
        gap: 0.75,
        minHeight: 48,
        fontWeight: here ? 650 : 400,
        borderBottom: `3px solid ${here ? theme.palette.primary.main : 'transparent'}`,
      })}
    >
      {name}
      {count !== undefined && count > 0 && (
        <Box component="span" sx={{ color: 'error.main', fontWeight: 650 }}>
          <span aria-hidden>▬ </span>
          {count}
          <Box
            component="span"
            sx={{ position: 'absolute', width: '1px', height: '1px', overflow: 'hidden', clipPath: 'inset(50%)' }}
          >
            {' '}
            {FRAME.open}
          </Box>
        </Box>
      )}
    </Link>
  );
}

export function Shell({ mode, onMode, children }: { mode: Mode; onMode: () => void; children: ReactNode }) {
  const { session, signOut, ask, lock } = useAccess();
  const shared = useSharedTerminal() !== null;
  const person = usePerson();
  const locked = session.kind === 'person' && session.locked;
  const ended = session.kind === 'person' && (session.ended || locked);
  const asked = session.kind === 'person' && session.asked;
  const connected = useLive(!ended);
  const { waiting } = useOutbox();
  const own = useOwnStations();
  const waitingEpisodes = useQuery({ ...queries.waiting, enabled: person.may.includes('look') });
  const open = waitingEpisodes.data
    ?.filter(({ station }) => own === null || own.includes(station))
    .reduce((sum, { count }) => sum + count, 0);
  const other = mode === 'dark' ? 'light' : 'dark';
  const phone = useMediaQuery((theme: Theme) => theme.breakpoints.down('sm'));
  const places = PLACES.filter(({ who }) => who === undefined || person.may.includes(who));
  return (
    <Box sx={{ minHeight: '100vh', display: 'flex', flexDirection: 'column' }}>
      <Link
        href="#content"
        sx={{
          position: 'absolute',
          left: -9999,
          '&:focus': { left: 8, top: 8, zIndex: 2000, bgcolor: 'background.paper', p: 1 },
        }}
      >
        {FRAME.skip}
      </Link>
      <AppBar
        position="static"
        color="transparent"
        sx={{ displayPrint: 'none', border: 0, borderBottom: 1, borderColor: 'divider' }}
      >
        <Stack direction="row" sx={{ alignItems: 'center', px: 2, columnGap: 1, flexWrap: 'wrap' }}>
          <img src="/mark.svg" alt="" width={28} height={28} />
          <Typography component="span" sx={{ fontWeight: 650, mr: 2, flex: { xs: 1, lg: 'none' } }}>
            {FRAME.name}
          </Typography>
          <Stack
            component="nav"
            direction="row"
            aria-label={FRAME.places}
            // On narrow screens a row of its own; on a phone those that are used most, the others are under More.
            sx={{
              order: { xs: 1, lg: 0 },
              flex: { xs: '1 0 100%', lg: '1 0 auto' },
              minWidth: 0,
              justifyContent: { xs: 'space-between', sm: 'start' },
              overflowX: { xs: 'auto', lg: 'visible' },
            }}
          >
            {(phone ? places.slice(0, ON_A_PHONE) : places).map((place) => (
              <Place
                key={place.to}
                to={place.to}
                name={place.name}
                count={place.to === '/signals' ? open : undefined}
              />
            ))}
          </Stack>
          {/* What does not fit beside the places goes under them together. */}
          <Stack direction="row" sx={{ alignItems: 'center', columnGap: 1, ml: 'auto' }}>
            <OpenTooLong />
            <Bell />
            {waiting.length > 0 && (
              <Link
                component={RouterLink}
                to="/waiting"
                sx={{
                  color: 'warning.main',
                  fontWeight: 650,
                  px: 1.5,
                  minHeight: 48,
                  display: 'inline-flex',
                  alignItems: 'center',
                }}
              >
                <span aria-hidden>◆&nbsp;</span>
                {FRAME.waits(waiting.length)}
              </Link>
            )}
            {phone ? (
              <More places={places.slice(ON_A_PHONE)} mode={mode} onMode={onMode} />
            ) : (
              <>
                <Link
                  component={RouterLink}
                  to="/me"
                  aria-label={`${person.name}, ${ROLES[person.role]}`}
                  title={ROLES[person.role]}
                  color="text.secondary"
                  underline="hover"
                  sx={{
                    display: 'inline-flex',
                    minHeight: 48,
                    alignItems: 'center',
                    whiteSpace: 'nowrap',
                  }}
                >
                  <Box component="span" sx={{ display: { xs: 'none', lg: 'inline' } }}>
                    {person.name}
                  </Box>
                  <Box component="span" sx={{ display: { lg: 'none' } }}>
                    {person.name.split(' ')[0]}
                  </Box>
                </Link>
                <Button color="inherit" onClick={onMode} aria-label={FRAME.switchTo[other]}>
                  {FRAME.mode[other]}
                </Button>
                {shared && (
                  <Button color="inherit" onClick={() => void lock()}>
                    {FRAME.switchPerson}
                  </Button>
                )}
                <Button color="inherit" onClick={() => void signOut()} sx={{ whiteSpace: 'nowrap' }}>
                  {FRAME.signOut}
                </Button>
              </>
            )}
          </Stack>
        </Stack>
      </AppBar>
      {!connected && !ended && (
        <Box sx={{ px: 2, pt: 1 }}>
          <Notice kind="caution">{FRAME.away}</Notice>
        </Box>
      )}
      <LateNews />
      {ended && (
        <Box sx={{ px: 2, pt: 1 }}>
          <Notice kind="caution">
            {FRAME.ended}{' '}
            <Button size="small" variant="outlined" color="inherit" onClick={ask}>
              {FRAME.signIn}
            </Button>
          </Notice>
        </Box>
      )}
      <Box component="main" id="content" tabIndex={-1} sx={{ flex: 1, p: 2, outline: 'none !important', minWidth: 0 }}>
        {children}
      </Box>
      <Shortcuts />
      {ended && asked && !locked && (
        <Suspense>
          <SessionEnded login={person.login} />
        </Suspense>
      )}
    </Box>
  );
}

/** What entries raised that had to wait, and went through after their person had left them. */
function LateNews() {
  const { news, heard } = useOutbox();
  const last = news[news.length - 1];
  if (!last) return null;
  const to = last.run === null ? `/signals/${last.episodes[0] ?? ''}` : `/lab/runs/${last.run}`;
  return (
    <Box sx={{ px: 2, pt: 1 }}>
      <Notice kind="caution">
        {last.run === null ? FRAME.lateSignal(last.title) : FRAME.lateRun(last.title)}{' '}
        <Button size="small" variant="outlined" color="inherit" component={RouterLink} to={to} onClick={heard}>
          {last.run === null ? FRAME.answerIt : FRAME.seeRun}
        </Button>{' '}
        <Button size="small" color="inherit" onClick={heard}>
          {FRAME.later}
        </Button>
      </Notice>
    </Box>
  );
}
