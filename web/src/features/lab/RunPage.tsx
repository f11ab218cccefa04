import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { Link as RouterLink, useParams } from 'react-router';
import { answered, api, type Bench, type RunView } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { Notice } from '../../ui/Notice';
import { Loaded } from '../../ui/States';
import { findingsInWords, LAB, missingInWords, sdApart } from '../../words/lab';
import { figure } from '../../words/numbers';
import { RUN } from '../../words/run';
import { when } from '../../words/time';
import { OpenSignals } from '../signals';
import { OutcomeMark } from './OutcomeMark';

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
      <OpenSignals of={run.judgements.flatMap((j) => j.results.map((r) => r.characteristic))} />
      <Paper component="section" aria-label={RUN.verdict} sx={{ p: 2, mb: 2 }}>
        <Box role="status" sx={{ fontSize: '1.25rem', mb: 1 }}>
          <OutcomeMark outcome={run.outcome} />
        </Box>
        <Settling run={run} />
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
              <OutcomeMark outcome={judged.outcome} short />
              {findingsInWords(judged).map((sentence) => (
                <Typography key={sentence} variant="body2">
                  {sentence}
                </Typography>
              ))}
            </Box>
          </Box>
        ))}
      </Paper>
    </Box>
  );
}

/** What became of the run, or what can be done with it. */
function Settling({ run }: { run: RunView }) {
  const mayEnter = useMay('enter_sample');
  const mayOverride = useMay('override_run');
  const { steps } = run;
  const settled = steps.repeat === 'released' || steps.repeat === 'repeated';
  const blocked = steps.release === 'rejected' || steps.release === 'incomplete';
  // About a run that was not accepted somebody else decides.
  const own = steps.release === 'own_run' || steps.overriding === 'own_run';
  return (
    <Stack spacing={1.25}>
      <History run={run} />
      {!settled && blocked && <Typography>{RUN.blocked(run.outcome, !mayOverride || own)}</Typography>}
      {!settled && !blocked && own && <Typography>{RUN.somebodyElse}</Typography>}
      {!settled && mayEnter && <Steps run={run} blocked={blocked} />}
      {settled && mayEnter && (
        <Button component={RouterLink} to={`/lab?bench=${run.station}`} variant="outlined" sx={{ alignSelf: 'start' }}>
          {RUN.next}
        </Button>
      )}
    </Stack>
  );
}

/** What was done with the run so far. */
function History({
  run: { overridden, outcome, verdict_since: since, released, repeated_by: by, missing },
}: {
  run: RunView;
}) {
  const overriding = outcome === 'rejected' ? RUN.rejectionOverridden : RUN.letThrough;
  return (
    <>
      {overridden && (
        <Notice kind="caution">{overriding(overridden.at, overridden.person, overridden.because ?? '')}</Notice>
      )}
      {since && <Notice kind="caution">{RUN.correctedSince(since)}</Notice>}
      {released && <Notice kind="settled">{RUN.released(released.at, released.person)}</Notice>}
      {by && (
        <Notice kind="settled">
          {RUN.repeatedBy(by.number)}{' '}
          <Link component={RouterLink} to={`/lab/runs/${by.id}`}>
            {RUN.seeIt}
          </Link>
        </Notice>
      )}
      {missing.length > 0 && (
        <Notice kind="caution">
          {missingInWords(missing)} {RUN.notByItself(missing.length)}
        </Notice>
      )}
    </>
  );
}

/** What this person may do with the run now. */
function Steps({ run, blocked }: { run: RunView; blocked: boolean }) {
  const mayRelease = useMay('release_run');
  const mayOverride = useMay('override_run');
  const client = useQueryClient();
  const [overriding, setOverriding] = useState(false);
  const { control, handleSubmit } = useForm({ defaultValues: { because: '' } });
  const because = useWatch({ control, name: 'because' });
  const { id, station, steps, version } = run;
  const step = useMutation({
    mutationFn: async (call: () => Promise<RunView>) => {
      client.setQueryData(queries.run(id).queryKey, await call());
      setOverriding(false);
    },
    onSettled: () => void touch(client, { kind: 'run', station }),
  });
  const path = { id };
  const release = () =>
    step.mutate(() => answered(api.POST('/api/runs/{id}/release', { params: { path }, body: { version } })));
  const override = handleSubmit((given) =>
    step.mutate(() => answered(api.POST('/api/runs/{id}/override', { params: { path }, body: { version, ...given } }))),
  );
  const words = RUN.override[run.outcome === 'rejected' ? 'rejected' : 'incomplete'];
  return (
    <>
      <Failed why={step.error} />
      <Stack direction="row" sx={{ gap: 1.5, flexWrap: 'wrap' }}>
        {mayRelease && steps.release == null && (
          <Button
            autoFocus
            variant="contained"
            size="large"
            disabled={step.isPending}
            onClick={release}
            sx={{ minHeight: 48 }}
          >
            {RUN.release}
          </Button>
        )}
        <Button
          component={RouterLink}
          to={`/lab?bench=${station}&repeats=${id}`}
          variant={blocked ? 'contained' : 'outlined'}
          color={blocked ? 'primary' : 'inherit'}
          size="large"
          sx={{ minHeight: 48 }}
        >
          {RUN.repeat}
        </Button>
        {mayOverride && steps.overriding == null && !overriding && (
          <Button color="inherit" onClick={() => setOverriding(true)}>
            {words.begin}
          </Button>
        )}
      </Stack>
      {overriding && (
        <Stack component="form" spacing={1.5} onSubmit={(event) => void override(event)}>
          <TextInput
            control={control}
            name="because"
            autoFocus
            label={words.why}
            multiline
            minRows={2}
            longest={2000}
          />
          <Stack direction="row" spacing={1}>
            <Button type="submit" variant="contained" disabled={step.isPending || because.trim() === ''}>
              {words.act}
            </Button>
            <Button color="inherit" onClick={() => setOverriding(false)}>
              {RUN.back}
            </Button>
          </Stack>
        </Stack>
      )}
    </>
  );
}
