import {
  Box,
  Button,
  MenuItem,
  Paper,
  Stack,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { answered, api, type RoundStation, type Stop } from '../../api/client';
import { queries, ROUNDS_AGAIN_MS } from '../../api/queries';
import { touch } from '../../api/touches';
import { useMayAt, useOwnStations } from '../../session/session';
import { useOutbox } from '../../outbox/Outbox';
import { Empty, Loaded } from '../../ui/States';
import { useKeys } from '../../ui/useKeys';
import { useAddress } from '../../ui/useAddress';
import { WHOSE } from '../../words/people';
import { ROUND } from '../../words/rounds';
import { CountPieces } from './CountPieces';
import { roundOf, urgency, waitsOf } from './round';
import { StopRow } from './StopRow';
import { TellEvent } from './TellEvent';
import { useAhead } from './useAhead';

export function RoundsPage() {
  const query = useQuery({ ...queries.rounds, refetchInterval: ROUNDS_AGAIN_MS });
  return (
    <Loaded query={query} what={ROUND.round}>
      {(stations) => <Walk stations={stations} />}
    </Loaded>
  );
}

function Walk({ stations: all }: { stations: RoundStation[] }) {
  const navigate = useNavigate();
  const { params: view, put } = useAddress();
  const { waiting } = useOutbox();
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), ROUNDS_AGAIN_MS);
    return () => window.clearInterval(timer);
  }, []);
  const own = useOwnStations();
  const everywhere = own === null || view.has('everywhere');
  const begun = everywhere ? all : all.filter((station) => own.includes(station.id));
  useAhead(begun);
  const waits = waitsOf(waiting);
  const area = view.get('area');
  const byUrgency = view.get('order') === 'urgency';
  const { areas, stations, stops, next } = roundOf(begun, area, waits);
  const show = (key: string, value: string | null) => put({ [key]: value }, true);
  useKeys((event) => {
    if (event.key.toLowerCase() === 'n' && !event.ctrlKey && !event.metaKey && !event.altKey && next) {
      void navigate(next.in_runs ? '/lab' : `/rounds/${next.id}`);
    }
  });
  const row = (stop: Stop, place?: string) => (
    <StopRow
      key={stop.id}
      stop={stop}
      now={now}
      next={stop === next}
      waits={waits.get(stop.id) ?? 0}
      {...(place !== undefined && { place })}
    />
  );
  return (
    <Box sx={{ maxWidth: 1080, mx: 'auto' }}>
      <Stack direction="row" sx={{ alignItems: 'center', mb: 1.5, columnGap: 2, rowGap: 1, flexWrap: 'wrap' }}>
        <Typography variant="h1">{ROUND.title}</Typography>
        <Typography color="text.secondary" sx={{ flex: 1, minWidth: 220 }}>
          {tally(stops.map((s) => s.stop))}
          {next && (
            <>
              {' '}
              · <kbd>N</kbd> {ROUND.opensMostUrgent}
            </>
          )}
        </Typography>
        {own !== null && (
          <ToggleButtonGroup
            exclusive
            size="small"
            aria-label={WHOSE.label}
            value={everywhere}
            onChange={(_, all: boolean | null) => all !== null && show('everywhere', all ? 'true' : null)}
          >
            <ToggleButton value={false}>{WHOSE.mine}</ToggleButton>
            <ToggleButton value={true}>{WHOSE.all}</ToggleButton>
          </ToggleButtonGroup>
        )}
        {areas.length > 1 && (
          <TextField
            select
            size="small"
            label={ROUND.area}
            value={area ?? ''}
            sx={{ width: 180 }}
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            onChange={(e) => show('area', e.target.value)}
          >
            <MenuItem value="">{ROUND.allAreas}</MenuItem>
            {areas.map((name) => (
              <MenuItem key={name} value={name}>
                {name}
              </MenuItem>
            ))}
          </TextField>
        )}
        <ToggleButtonGroup
          exclusive
          size="small"
          aria-label={ROUND.order}
          value={byUrgency ? 'urgency' : 'station'}
          onChange={(_, order: string | null) => order && show('order', order === 'urgency' ? order : null)}
        >
          <ToggleButton value="station">{ROUND.byStation}</ToggleButton>
          <ToggleButton value="urgency">{ROUND.byUrgency}</ToggleButton>
        </ToggleButtonGroup>
      </Stack>
      {all.length === 0 && <Empty>{ROUND.nothingSetUp}</Empty>}
      {byUrgency && stops.length > 0 && (
        <Paper component="section" aria-label={ROUND.byUrgency}>
          {stops.map(({ stop, station }) => row(stop, station))}
        </Paper>
      )}
      {!byUrgency && (
        <Stack spacing={1.5}>
          {stations.map((station) => (
            <Paper key={station.id} component="section" aria-labelledby={station.id}>
              <StationHead station={station} />
              {[...station.characteristics].sort(urgency).map((stop) => row(stop))}
            </Paper>
          ))}
        </Stack>
      )}
    </Box>
  );
}

function StationHead({ station }: { station: RoundStation }) {
  const client = useQueryClient();
  const mayTell = useMayAt('record_event', station.id);
  const pin = async () => {
    const params = { params: { path: { id: station.id } } };
    await answered(
      station.pinned ? api.DELETE('/api/stations/{id}/pin', params) : api.PUT('/api/stations/{id}/pin', params),
    );
    await touch(client, { kind: 'station', station: station.id });
  };
  return (
    <Stack direction="row" sx={{ alignItems: 'center', px: 2, py: 0.25, gap: 1, flexWrap: 'wrap' }}>
      <Typography id={station.id} variant="h2" sx={{ flex: 1, minWidth: 200 }}>
        {station.name}{' '}
        <Box component="span" sx={{ color: 'text.secondary', fontWeight: 400 }}>
          {station.area}
          {station.lot != null && ` · ${ROUND.lot(station.lot)}`}
        </Box>
      </Typography>
      {mayTell && (
        <>
          {station.characteristics.some((stop) => stop.sampling.every === 'pieces') && (
            <CountPieces station={station} />
          )}
          <TellEvent station={station} />
        </>
      )}
      <Button
        size="small"
        color="inherit"
        aria-pressed={station.pinned}
        aria-label={ROUND.keepThisOnTop(station.name)}
        onClick={() => void pin()}
      >
        {station.pinned ? ROUND.keptOnTop : ROUND.keepOnTop}
      </Button>
    </Stack>
  );
}

function tally(stops: readonly Stop[]): string {
  const count = (state: Stop['state']) => stops.filter((stop) => stop.state === state).length;
  return ROUND.tally(count('overdue'), count('due'), count('done'));
}
