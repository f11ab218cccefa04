import { Box, Button, Link, Paper, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import type { RunView } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { Empty, Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { LAB, LAB_QUEUE, runStanding } from '../../words/lab';
import { RUN } from '../../words/run';
import { when } from '../../words/time';
import { MarkMany, MarkRun } from './MarkRun';
import { Findings, OutcomeMark } from './OutcomeMark';
import { RunActions } from './RunActions';

/** The laboratory's queue: runs that wait for a review, or those that were reviewed before. */
export default function RunsPage() {
  const { params, put } = useAddress();
  const reviewed = params.get('reviewed') === 'true';
  const query = useInfiniteQuery(queries.runs(reviewed));
  const mayReview = useMay('review_signal');
  const [later, setLater] = useState<readonly string[]>([]);
  return (
    <Box sx={{ maxWidth: 980, mx: 'auto' }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2, mb: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {LAB_QUEUE.title}
        </Typography>
        <ToggleButtonGroup
          exclusive
          aria-label={LAB_QUEUE.which}
          value={reviewed}
          onChange={(_, before: boolean | null) => before !== null && put({ reviewed: before ? 'true' : null }, true)}
        >
          <ToggleButton value={false}>{LAB_QUEUE.toReview}</ToggleButton>
          <ToggleButton value={true}>{LAB_QUEUE.reviewed}</ToggleButton>
        </ToggleButtonGroup>
      </Stack>
      <Loaded query={query} what={LAB_QUEUE.what}>
        {({ pages }) => {
          const runs = pages.flat();
          if (runs.length === 0) return <Empty>{reviewed ? LAB_QUEUE.noneBefore : LAB_QUEUE.none}</Empty>;
          const theirs = mayReview && !reviewed ? runs.filter(({ steps }) => steps.review == null) : [];
          const turn = theirs.find(({ id }) => !later.includes(id));
          return (
            <Stack spacing={1.5}>
              <MarkMany runs={theirs.filter(isPlain)} />
              {runs.map((run) => (
                <RunCard
                  key={`${run.id} ${run.version}`}
                  run={run}
                  turn={run.id === turn?.id}
                  onLater={() => setLater((before) => [...before, run.id])}
                />
              ))}
              {query.hasNextPage && (
                <Button
                  color="inherit"
                  disabled={query.isFetchingNextPage}
                  onClick={() => void query.fetchNextPage()}
                  sx={{ alignSelf: 'start' }}
                >
                  {LAB_QUEUE.more}
                </Button>
              )}
            </Stack>
          );
        }}
      </Loaded>
    </Box>
  );
}

/** Accepted by rule, and nobody had to decide on it. */
const isPlain = ({ outcome, overridden }: RunView) => outcome === 'accepted' && overridden == null;

function RunCard({ run, turn, onLater }: { run: RunView; turn: boolean; onLater: () => void }) {
  const bench = useQuery(queries.lab).data?.find(({ station }) => station === run.station)?.name ?? '';
  const broken = run.judgements.filter(({ findings }) => findings.length > 0);
  const { overridden } = run;
  return (
    <Paper component="section" aria-label={`${LAB.run(run.number)}, ${bench}`} sx={{ p: 2 }}>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline', flexWrap: 'wrap', mb: 0.5 }}>
        <Link component={RouterLink} to={`/lab/runs/${run.id}`} sx={{ fontWeight: 600 }}>
          {LAB.run(run.number)}, {bench}
        </Link>
        <OutcomeMark outcome={run.outcome} short />
        <Typography color="text.secondary" sx={{ flex: 1 }}>
          {when(run.taken_at)}, {run.person} · {runStanding(run)}
        </Typography>
      </Stack>
      {overridden && (
        <Typography sx={{ mb: 0.5 }}>
          {(run.outcome === 'rejected' ? RUN.rejectionOverridden : RUN.letThrough)(
            overridden.at,
            overridden.person,
            overridden.because ?? '',
          )}
        </Typography>
      )}
      {broken.map((judged) => (
        <Box key={judged.analyte} sx={{ mb: 0.5 }}>
          <Typography sx={{ fontWeight: 600 }}>{judged.name}</Typography>
          <Findings judged={judged} />
        </Box>
      ))}
      <RunActions run={run} inList />
      <MarkRun run={run} bench={bench} turn={turn} onLater={onLater} />
    </Paper>
  );
}
