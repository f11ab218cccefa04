import { Box, Link, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink, useParams } from 'react-router';
import type { Bench, RunView } from '../../api/client';
import { queries } from '../../api/queries';
import { Loaded } from '../../ui/States';
import { LAB, LAB_QUEUE, sdApart } from '../../words/lab';
import { figure } from '../../words/numbers';
import { RUN } from '../../words/run';
import { when } from '../../words/time';
import { OpenEpisodes } from '../signals';
import { Findings, OutcomeMark } from './OutcomeMark';
import { RunActions } from './RunActions';
import { RunSteps } from './RunSteps';

/** One run: its verdict in words, and what is to be done with it. */
export default function RunPage() {
  const { id = '' } = useParams();
  const query = useQuery(queries.run(id));
  const benches = useQuery(queries.lab);
  return (
    <Loaded query={query} what={RUN.run}>
      {(run) => <Run run={run} bench={benches.data?.find((b) => b.station === run.station)} />}
    </Loaded>
  );
}

function Run({ run, bench }: { run: RunView; bench: Bench | undefined }) {
  const decimals = (analyte: string) => bench?.analytes.find((a) => a.id === analyte)?.decimals ?? 2;
  const unit = (analyte: string) => bench?.analytes.find((a) => a.id === analyte)?.unit ?? '';
  return (
    <Box sx={{ maxWidth: 980, mx: 'auto' }}>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {RUN.title(run.number)}
        </Typography>
        <Link component={RouterLink} to={`/lab?bench=${run.station}`}>
          {RUN.allOf(bench?.name)}
        </Link>
      </Stack>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        {when(run.taken_at)} · {run.person}
        {run.repeats && (
          <>
            {' '}
            ·{' '}
            <Link component={RouterLink} to={`/lab/runs/${run.repeats.id}`}>
              {LAB.repeatsRun(run.repeats.number)}
            </Link>
          </>
        )}
      </Typography>
      <OpenEpisodes of={run.judgements.flatMap((j) => j.results.map((r) => r.characteristic))} />
      <Paper component="section" aria-label={RUN.verdict} sx={{ p: 2, mb: 2 }}>
        <Box role="status" sx={{ fontSize: '1.25rem', mb: 1 }}>
          <OutcomeMark outcome={run.outcome} />
        </Box>
        <RunSteps run={run} />
      </Paper>
      <Paper component="section" aria-label={LAB_QUEUE.actions} sx={{ p: 2, mb: 2 }}>
        <Typography variant="h2" sx={{ mb: 0.5 }}>
          {LAB_QUEUE.actions}
        </Typography>
        <RunActions run={run} />
      </Paper>
      <Paper component="ul" aria-label={RUN.results} sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {run.judgements.map((judged) => (
          <Box
            component="li"
            key={judged.analyte}
            sx={{
              display: 'grid',
              gridTemplateColumns: { xs: '1fr', md: '180px minmax(0, 1.2fr) minmax(0, 1fr)' },
              gap: 2,
              px: 2,
              py: 1.25,
              '&:not(:first-of-type)': { borderTop: 1, borderColor: 'divider' },
            }}
          >
            <Box>
              <Typography sx={{ fontWeight: 650 }}>{judged.name}</Typography>
              <Typography variant="body2" color="text.secondary">
                {unit(judged.analyte)}
              </Typography>
            </Box>
            <Box component="dl" sx={{ m: 0, display: 'flex', flexWrap: 'wrap', columnGap: 3, '& dd': { m: 0 } }}>
              {judged.results.map((r) => (
                <Box key={r.characteristic}>
                  <Box component="dt" sx={{ color: 'text.secondary', fontSize: '0.85rem' }}>
                    <Link component={RouterLink} to={`/charts/${r.characteristic}`} color="inherit">
                      {r.level}
                    </Link>
                  </Box>
                  <Box component="dd" sx={{ fontSize: '1.25rem', fontVariantNumeric: 'tabular-nums' }}>
                    {figure(r.value, decimals(judged.analyte))}
                  </Box>
                  <Box component="dd" sx={{ color: 'text.secondary', fontSize: '0.85rem' }}>
                    {r.z == null ? '' : sdApart(r.z)}
                  </Box>
                </Box>
              ))}
            </Box>
            <Box>
              <Findings judged={judged} />
            </Box>
          </Box>
        ))}
      </Paper>
    </Box>
  );
}
