import { Box, Button, Link, Paper, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink, useSearchParams } from 'react-router';
import { answered, api, type RunView } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Empty, Loaded } from '../../ui/States';
import { LAB, LAB_QUEUE, runStanding } from '../../words/lab';
import { RUN } from '../../words/run';
import { when } from '../../words/time';
import { Findings, OutcomeMark } from './OutcomeMark';
import { RunActions } from './RunActions';

/** The laboratory's queue: runs that wait for a review, or those that were reviewed before. */
export default function RunsPage() {
  const [params, setParams] = useSearchParams();
  const reviewed = params.get('reviewed') === 'true';
  const query = useInfiniteQuery(queries.runs(reviewed));
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
          onChange={(_, before: boolean | null) =>
            before !== null && setParams(before ? { reviewed: 'true' } : {}, { replace: true })
          }
        >
          <ToggleButton value={false}>{LAB_QUEUE.toReview}</ToggleButton>
          <ToggleButton value={true}>{LAB_QUEUE.reviewed}</ToggleButton>
        </ToggleButtonGroup>
      </Stack>
      <Loaded query={query} what={LAB_QUEUE.what}>
        {({ pages }) => {
          const runs = pages.flat();
          if (runs.length === 0) return <Empty>{reviewed ? LAB_QUEUE.noneBefore : LAB_QUEUE.none}</Empty>;
          return (
            <Stack spacing={1.5}>
              {runs.map((run) => (
                <RunCard key={`${run.id} ${run.version}`} run={run} />
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

function RunCard({ run }: { run: RunView }) {
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
      <Reviewing run={run} bench={bench} />
    </Paper>
  );
}

/** Marks it as reviewed, where that is up to this person. */
function Reviewing({ run, bench }: { run: RunView; bench: string }) {
  const client = useQueryClient();
  const mayReview = useMay('review_signal');
  const [remark, setRemark] = useState('');
  const { id, version, station, reviewed, steps } = run;
  const mark = useMutation({
    mutationFn: async () => {
      const body = { version, remark: remark.trim() === '' ? null : remark };
      await answered(api.POST('/api/runs/{id}/reviews', { params: { path: { id } }, body }));
      await touch(client, { kind: 'run', station });
    },
  });
  if (reviewed) {
    return (
      <Typography color="text.secondary" sx={{ mt: 1 }}>
        {[LAB_QUEUE.by(reviewed.person, reviewed.at), reviewed.because].filter((part) => part != null).join(': ')}
      </Typography>
    );
  }
  if (!mayReview) return null;
  if (steps.review != null) {
    return (
      <Typography color="text.secondary" sx={{ mt: 1 }}>
        {steps.review === 'own_run' ? LAB_QUEUE.own : LAB_QUEUE.notYet}
      </Typography>
    );
  }
  return (
    <Stack
      component="form"
      direction="row"
      sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'center', mt: 1 }}
      onSubmit={(event) => {
        event.preventDefault();
        mark.mutate();
      }}
    >
      <TextField
        size="small"
        label={LAB_QUEUE.remark}
        value={remark}
        sx={{ flex: 1, minWidth: 220 }}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
        onChange={(event) => setRemark(event.target.value)}
      />
      <Button
        type="submit"
        variant="contained"
        aria-label={LAB_QUEUE.markOf(run.number, bench)}
        disabled={mark.isPending}
      >
        {LAB_QUEUE.mark}
      </Button>
      <Failed why={mark.error} />
    </Stack>
  );
}
