import { Box, Link, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link as RouterLink, useNavigate } from 'react-router';
import { answered, api, type Station, type Stop } from '../../api/client';
import { usePerson } from '../../app/session';
import { Empty, Loaded } from '../../ui/States';
import { useKeys } from '../../ui/useKeys';
import { taking } from '../../words/samples';
import { atClock, stretch } from '../../words/time';
import { TellEvent } from './TellEvent';

/** The round is looked at again this often, so that what falls due shows without anybody acting. */
const AGAIN_MS = 30_000;

const WEIGHT = { overdue: 0, due: 1, done: 2 } as const;

function urgency(a: Stop, b: Stop): number {
  const time = (stop: Stop) => (stop.due_at == null ? Infinity : Date.parse(stop.due_at));
  return WEIGHT[a.state] - WEIGHT[b.state] || (time(a) < time(b) ? -1 : Number(time(a) > time(b)));
}

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

function Row({ stop, now, next }: { stop: Stop; now: number; next: boolean }) {
  return (
    <Link
      component={RouterLink}
      to={`/rounds/${stop.id}`}
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
        <Box component="span" sx={{ color: 'text.secondary' }}> · {stop.product}</Box>
      </span>
      <Box component="span" sx={{ color: 'text.secondary' }}>{taking(stop)}</Box>
      <span>
        <Standing stop={stop} now={now} />
        {next && <Box component="kbd" sx={{ ml: 1.5, px: 0.8, border: 1, borderColor: 'text.secondary', borderRadius: 0.5 }}>N</Box>}
      </span>
      <Box component="span" sx={{ color: 'error.main' }}>
        {stop.open_signals > 0 && <><span aria-hidden>▬ </span>{stop.open_signals} open {stop.open_signals === 1 ? 'signal' : 'signals'}</>}
      </Box>
    </Link>
  );
}

export function RoundsPage() {
  const navigate = useNavigate();
  const mayTell = usePerson().role !== 'administrator';
  const query = useQuery({
    queryKey: ['rounds'],
    queryFn: () => answered(api.GET('/api/rounds')),
    refetchInterval: AGAIN_MS,
  });
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), AGAIN_MS);
    return () => window.clearInterval(timer);
  }, []);
  const next = query.data?.flatMap((station) => station.characteristics).sort(urgency)[0];
  const nextId = next && next.state !== 'done' ? next.id : undefined;
  useKeys((event) => {
    if (event.key.toLowerCase() === 'n' && !event.ctrlKey && !event.metaKey && !event.altKey && nextId) {
      void navigate(`/rounds/${nextId}`);
    }
  });
  return (
    <Loaded query={query} what="the round">
      {(stations) => (
        <Box sx={{ maxWidth: 1080, mx: 'auto' }}>
          <Stack direction="row" sx={{ alignItems: 'baseline', mb: 1.5, gap: 2, flexWrap: 'wrap' }}>
            <Typography variant="h1">Rounds</Typography>
            <Typography color="text.secondary">
              {tally(stations)}
              {nextId && <> · <kbd>N</kbd> opens the most urgent</>}
            </Typography>
          </Stack>
          {stations.length === 0 && <Empty>Nothing is set up yet. An engineer adds stations and characteristics first.</Empty>}
          <Stack spacing={1.5}>
            {stations.map((station) => (
              <Paper key={station.id} component="section" aria-labelledby={station.id}>
                <Stack direction="row" sx={{ alignItems: 'center', px: 2, py: 0.25, gap: 1 }}>
                  <Typography id={station.id} variant="h2" sx={{ flex: 1 }}>
                    {station.name}{' '}
                    <Box component="span" sx={{ color: 'text.secondary', fontWeight: 400 }}>{station.area}{station.lot != null && ` · lot ${station.lot}`}</Box>
                  </Typography>
                  {mayTell && <TellEvent station={station} />}
                </Stack>
                {[...station.characteristics].sort(urgency).map((stop) => (
                  <Row key={stop.id} stop={stop} now={now} next={stop.id === nextId} />
                ))}
              </Paper>
            ))}
          </Stack>
        </Box>
      )}
    </Loaded>
  );
}

function tally(stations: readonly Station[]): string {
  const stops = stations.flatMap((station) => station.characteristics);
  const count = (state: Stop['state']) => stops.filter((stop) => stop.state === state).length;
  return `${count('overdue')} overdue, ${count('due')} due, ${count('done')} done`;
}
