import { Box, Button, Link, Paper, Stack, Tab, Tabs, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import type { Bench } from '../../api/client';
import { useMay, useMayAt } from '../../session/session';
import { Empty, Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { ENTRY } from '../../words/entry';
import { LAB, LAB_QUEUE, runStanding } from '../../words/lab';
import { PEERS } from '../../words/peers';
import { when } from '../../words/time';
import { queries } from '../../api/queries';
import { RunEntry } from './RunEntry';
import { OutcomeMark } from './OutcomeMark';

/** The laboratory: the run that is being measured, and those before it. */
export default function LabPage() {
  const query = useQuery(queries.lab);
  const maySetUp = useMay('set_up');
  return (
    <Loaded query={query} what={LAB.laboratory}>
      {(benches) =>
        benches.length === 0 ? (
          <Empty>
            {LAB.nothingSetUp}{' '}
            {maySetUp ? (
              <Link component={RouterLink} to="/plan/analytes/new">
                {LAB.setUpAnalyte}
              </Link>
            ) : (
              LAB.engineerFirst
            )}
          </Empty>
        ) : (
          <Benches benches={benches} />
        )
      }
    </Loaded>
  );
}

function Benches({ benches }: { benches: Bench[] }) {
  const { params, put } = useAddress();
  const bench = benches.find((b) => b.station === params.get('bench')) ?? benches[0];
  const role = useMay('enter_sample');
  const mayEnter = useMayAt('enter_sample', bench?.station ?? '');
  if (!bench) return null;
  const repeats = bench.runs.find((run) => run.id === params.get('repeats')) ?? null;
  return (
    <Box>
      {benches.length > 1 && (
        <Tabs value={bench.station} onChange={(_, station: string) => put({ bench: station })} aria-label={LAB.bench}>
          {benches.map((b) => (
            <Tab key={b.station} value={b.station} label={b.name} />
          ))}
        </Tabs>
      )}
      <Typography variant="h1">{repeats ? LAB.repeatOf(repeats.number) : LAB.controlRun}</Typography>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        {bench.name}
        {repeats && (
          <>
            {' '}
            ·{' '}
            <Link component={RouterLink} to={`/lab?bench=${bench.station}`}>
              {LAB.runOfItsOwn}
            </Link>
          </>
        )}
      </Typography>
      {mayEnter ? (
        <RunEntry key={bench.station} bench={bench} repeats={repeats} />
      ) : (
        <Empty>{role ? ENTRY.notYours : LAB.looksOnly}</Empty>
      )}
      <Runs bench={bench} />
    </Box>
  );
}

function Runs({ bench }: { bench: Bench }) {
  return (
    <Box component="section" aria-labelledby="runs" sx={{ mt: 2.5 }}>
      <Stack direction="row" sx={{ alignItems: 'baseline', columnGap: 2, flexWrap: 'wrap', mb: 0.5 }}>
        <Typography id="runs" variant="h2" sx={{ flex: 1 }}>
          {LAB.latestRuns}
        </Typography>
        <Link
          component={RouterLink}
          to="/lab/review"
          sx={{ minHeight: 48, display: 'inline-flex', alignItems: 'center' }}
        >
          {LAB_QUEUE.title}
        </Link>
        <Link
          component={RouterLink}
          to={`/lab/figures/${bench.station}`}
          sx={{ minHeight: 48, display: 'inline-flex', alignItems: 'center' }}
        >
          {LAB.figures}
        </Link>
        <Link
          component={RouterLink}
          to="/lab/peers"
          sx={{ minHeight: 48, display: 'inline-flex', alignItems: 'center' }}
        >
          {PEERS.title}
        </Link>
      </Stack>
      {bench.runs.length === 0 && <Empty>{LAB.noRun}</Empty>}
      {bench.runs.length > 0 && (
        <Paper component="ul" aria-labelledby="runs" sx={{ m: 0, p: 0, listStyle: 'none' }}>
          {bench.runs.map((run) => (
            <Box
              component="li"
              key={run.id}
              sx={{
                display: 'grid',
                gridTemplateColumns: { xs: '1fr', sm: '110px 170px minmax(0, 1fr) minmax(0, 1.4fr)' },
                columnGap: 2,
                alignItems: 'center',
                minHeight: 48,
                px: 2,
                '&:not(:first-of-type)': { borderTop: 1, borderColor: 'divider' },
              }}
            >
              <Link component={RouterLink} to={`/lab/runs/${run.id}`} sx={{ fontWeight: 600 }}>
                {LAB.run(run.number)}
              </Link>
              <Box component="span" sx={{ color: 'text.secondary' }}>
                {when(run.taken_at)}
              </Box>
              <span>
                <OutcomeMark outcome={run.outcome} short />
                {run.repeats && (
                  <Box component="span" sx={{ color: 'text.secondary' }}>
                    {' '}
                    · {LAB.repeats(run.repeats.number)}
                  </Box>
                )}
              </span>
              <Box component="span" sx={{ color: 'text.secondary' }}>
                {runStanding(run)}
              </Box>
            </Box>
          ))}
        </Paper>
      )}
      {bench.runs.length > 0 && (
        <Button component={RouterLink} to="/charts" color="inherit" sx={{ mt: 1 }}>
          {LAB.allCharts}
        </Button>
      )}
    </Box>
  );
}
