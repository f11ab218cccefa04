import { Box, Link, Stack, TextField, ToggleButton, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link as RouterLink } from 'react-router';
import type { SmallChart } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { Pick } from '../../ui/Pick';
import { Empty, Loaded } from '../../ui/States';
import { type Address, useAddress } from '../../ui/useAddress';
import { CHARTS_LIST, MANY } from '../../words/charts';
import { LOOK } from '../../words/look';
import { askedOf, choicesOf, NARROWS, shown, STRETCHES, stretchOf } from './many';
import { SmallCard } from './SmallCard';

/** The time that charts share goes on with the hour. */
const HOUR_MS = 3_600_000;

/** Many charts at once, each small; the address says which, how far back, and in which order. */
export default function ChartsPage() {
  const address = useAddress();
  const mayLimit = useMay('set_limits');
  const toLookAt = useQuery({ ...queries.toLookAt, enabled: mayLimit });
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), HOUR_MS);
    return () => window.clearInterval(timer);
  }, []);
  const asked = askedOf(stretchOf(address.params), now);
  const query = useQuery({ ...queries.smallCharts(asked), placeholderData: keepPreviousData });
  return (
    <Box>
      <Stack direction="row" sx={{ gap: 3, alignItems: 'center', mb: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h1">{CHARTS_LIST.title}</Typography>
        {mayLimit && (
          <Link component={RouterLink} to="/charts/limits-to-look-at">
            {LOOK.toList}
            {toLookAt.data && toLookAt.data.length > 0 && ` (${toLookAt.data.length})`}
          </Link>
        )}
      </Stack>
      <Loaded query={query} what={CHARTS_LIST.charts}>
        {(charts) => (
          <Grid
            charts={charts}
            address={address}
            time={asked.since === undefined ? null : { from: Date.parse(asked.since), to: now }}
          />
        )}
      </Loaded>
    </Box>
  );
}

interface Props {
  charts: readonly SmallChart[];
  address: Address;
  time: { from: number; to: number } | null;
}

function Grid({ charts, address: { params, put }, time }: Props) {
  const wanted = params.get('find') ?? '';
  const found = shown(charts, params);
  const quietly = (changes: Parameters<typeof put>[0]) => put(changes, true);
  const pinned = params.get('pinned') === '1';
  return (
    <>
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center', mb: 1.5, flexWrap: 'wrap', displayPrint: 'none' }}>
        <TextField
          label={CHARTS_LIST.find}
          size="small"
          value={wanted}
          onChange={(event) => quietly({ find: event.target.value })}
          sx={{ maxWidth: 340 }}
        />
        <Pick
          label={MANY.stretch}
          value={stretchOf(params)}
          onPick={(stretch) => quietly({ stretch })}
          options={STRETCHES.map((stretch) => [stretch, MANY.stretches[stretch]] as const)}
        />
        <Pick
          label={MANY.order}
          value={params.get('order') === 'place' ? 'place' : 'worst'}
          onPick={(order) => quietly({ order })}
          options={Object.entries(MANY.orders)}
        />
        {NARROWS.map((narrow) => {
          const choices = choicesOf(charts, narrow);
          if (choices.length < 2 && params.get(narrow) === null) return null;
          return (
            <Pick
              key={narrow}
              label={MANY.narrows[narrow]}
              value={params.get(narrow) ?? ''}
              onPick={(value) => quietly({ [narrow]: value })}
              options={[['', MANY.any], ...choices.map((choice) => [choice, choice] as const)]}
            />
          );
        })}
        <ToggleButton
          value="pinned"
          selected={pinned}
          onChange={() => quietly({ pinned: pinned ? null : '1' })}
          sx={{ height: 40 }}
        >
          {MANY.pinned}
        </ToggleButton>
      </Stack>
      {found.length === 0 ? (
        <Empty>
          {charts.length === 0
            ? CHARTS_LIST.nothingSetUp
            : pinned
              ? MANY.nothingPinned
              : CHARTS_LIST.nothingFits(wanted)}
        </Empty>
      ) : (
        <Box
          sx={{
            display: 'grid',
            gridTemplateColumns: 'repeat(auto-fill, minmax(min(280px, 100%), 1fr))',
            '@media print': { gridTemplateColumns: 'repeat(3, 1fr)' },
            gap: 1.25,
          }}
        >
          {found.map((chart) => (
            <SmallCard key={chart.id} chart={chart} time={time} mayPin />
          ))}
        </Box>
      )}
    </>
  );
}
