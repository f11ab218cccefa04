import { Box, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import type { Learned } from '../../api/client';
import { type LearnAsked, queries } from '../../api/queries';
import { daysIn, idsIn } from '../../ui/address';
import { DayPick } from '../../ui/DayPick';
import { Pick } from '../../ui/Pick';
import { Empty, Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { cameBack, LEARN, ruleName, takes } from '../../words/learn';
import { Bars, Behind } from './Bars';

/** What the episodes of a period teach. */
export default function LearnPage() {
  const { params, put } = useAddress();
  const plan = useQuery(queries.plan).data;
  const { from, until } = daysIn(params, ['from', 'until']);
  const set = (name: string, to: string) => put({ [name]: to }, true);
  const day = (name: string, label: string) => (
    <DayPick label={label} value={params.get(name) ?? ''} onPick={(to) => set(name, to)} />
  );
  return (
    <Box sx={{ maxWidth: 1080, mx: 'auto' }}>
      <Typography variant="h1">{LEARN.title}</Typography>
      <Typography color="text.secondary">{LEARN.about}</Typography>
      <Box sx={{ display: 'flex', gap: 1.25, rowGap: 1.5, flexWrap: 'wrap', my: 1.5 }}>
        {day('from', LEARN.from)}
        {day('until', LEARN.until)}
        <Pick
          label={LEARN.area}
          value={params.get('area') ?? ''}
          options={[['', LEARN.allAreas], ...(plan?.areas ?? []).map(({ id, name }): [string, string] => [id, name])]}
          onPick={(to) => set('area', to)}
        />
      </Box>
      {from === undefined || until === undefined ? (
        <Empty>{LEARN.choose}</Empty>
      ) : (
        <Period asked={{ from, until, ...idsIn(params, ['area']) }} params={params} />
      )}
    </Box>
  );
}

function Period({ asked, params }: { asked: LearnAsked; params: URLSearchParams }) {
  const query = useQuery(queries.learned(asked));
  const stations = useQuery(queries.plan).data?.stations ?? [];
  return (
    <Loaded query={query} what={LEARN.what}>
      {(learned) =>
        learned.episodes === 0 ? (
          <Empty>{LEARN.nothing}</Empty>
        ) : (
          <Figures
            learned={learned}
            station={(id) => stations.find((station) => station.id === id)?.name ?? ''}
            behind={(narrows) => {
              const to = new URLSearchParams({ state: 'all', everywhere: 'true', trial: 'false' });
              for (const name of ['from', 'until', 'area']) {
                const value = params.get(name);
                if (value !== null) to.set(name, value);
              }
              for (const [name, value] of Object.entries(narrows)) to.set(name, value);
              return `/signals?${to.toString()}`;
            }}
          />
        )
      }
    </Loaded>
  );
}

function Figures({
  learned,
  station,
  behind,
}: {
  learned: Learned;
  station: (id: string) => string;
  behind: (narrows: Record<string, string>) => string;
}) {
  return (
    <Stack spacing={1.5}>
      <Paper sx={{ p: 2, display: 'flex', columnGap: 4, rowGap: 1, flexWrap: 'wrap' }}>
        <Figure name={LEARN.raised}>
          <Behind to={behind({})}>{learned.episodes}</Behind>
        </Figure>
        <Figure name={LEARN.answered}>{learned.answered}</Figure>
        <Figure name={LEARN.nothingFound}>{LEARN.share(learned.nothing_found, learned.nothing_found_share)}</Figure>
        <Figure name={LEARN.toAnswer}>{learned.to_answer ? takes(learned.to_answer) : LEARN.none}</Figure>
        <Figure name={LEARN.toReview}>{learned.to_review ? takes(learned.to_review) : LEARN.none}</Figure>
      </Paper>
      <Paper component="section" aria-label={LEARN.causes} sx={{ p: 2 }}>
        <Typography variant="h2">{LEARN.causes}</Typography>
        {learned.causes.length === 0 && <Typography color="text.secondary">{LEARN.noCause}</Typography>}
        <Bars
          most={learned.causes[0]?.episodes ?? 1}
          bars={learned.causes.map(({ id, name, episodes, weeks, stations }) => ({
            key: `${id ?? ''} ${name}`,
            name,
            count: episodes,
            to: id == null ? null : behind({ cause: id }),
            about: `${cameBack(episodes, weeks)}: ${stations.map((at) => LEARN.at(station(at.station), at.episodes)).join(', ')}`,
          }))}
        />
      </Paper>
      <Box sx={{ display: 'grid', gap: 1.5, gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' } }}>
        <Paper component="section" aria-label={LEARN.rules} sx={{ p: 2 }}>
          <Typography variant="h2">{LEARN.rules}</Typography>
          <Bars
            most={learned.rules[0]?.episodes ?? 1}
            bars={learned.rules.map(({ rule, episodes }) => ({
              key: rule,
              name: ruleName(rule),
              count: episodes,
              to: behind({ rule }),
            }))}
          />
        </Paper>
        <Paper component="section" aria-label={LEARN.stations} sx={{ p: 2 }}>
          <Typography variant="h2">{LEARN.stations}</Typography>
          <Bars
            most={learned.stations[0]?.episodes ?? 1}
            bars={learned.stations.map((at) => ({
              key: at.station,
              name: station(at.station),
              count: at.episodes,
              to: behind({ station: at.station }),
            }))}
          />
        </Paper>
      </Box>
      <Paper component="section" aria-label={LEARN.weeks} sx={{ p: 2 }}>
        <Typography variant="h2">{LEARN.weeks}</Typography>
        <Bars
          most={Math.max(...learned.weeks.map(({ episodes }) => episodes), 1)}
          bars={learned.weeks.map(({ monday, episodes }) => ({
            key: monday,
            name: LEARN.week(monday),
            count: episodes,
            to: behind({ from: monday, until: weekAfter(monday) }),
          }))}
        />
      </Paper>
    </Stack>
  );
}

function Figure({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Box>
      <Typography variant="body2" color="text.secondary">
        {name}
      </Typography>
      <Typography sx={{ fontWeight: 600 }}>{children}</Typography>
    </Box>
  );
}

/** The Monday after a Monday. */
function weekAfter(monday: string): string {
  return new Date(Date.parse(`${monday}T12:00:00Z`) + 7 * 86_400_000).toISOString().slice(0, 10);
}
