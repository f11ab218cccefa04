import { Box, Button, Link, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink, useParams } from 'react-router';
import { answered, api, type Bench, type RunView } from '../../api/client';
import { useMay } from '../../session/session';
import { touch } from '../../api/touches';
import { Notice } from '../../ui/Notice';
import { Loaded } from '../../ui/States';
import { sentenceFor } from '../../words/failures';
import { findingsInWords, missingInWords, OUTCOMES, sdApart } from '../../words/lab';
import { figure } from '../../words/numbers';
import { when } from '../../words/time';
import { queries } from '../../api/queries';
import { OpenSignals } from '../signals';
import { OutcomeMark } from './OutcomeMark';

/** One run: its verdict in words, and what is to be done with it. */
export default function RunPage() {
  const { id = '' } = useParams();
  const query = useQuery(queries.run(id));
  const benches = useQuery(queries.lab);
  return (
    <Loaded query={query} what="the run">
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
        <Typography variant="h1" sx={{ flex: 1 }}>Run {run.number}</Typography>
        <Link component={RouterLink} to={`/lab?bench=${run.station}`}>All runs of {bench?.name ?? 'the bench'}</Link>
      </Stack>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        {when(run.taken_at)} · {run.person}
        {run.repeats && <> · repeats <Link component={RouterLink} to={`/lab/runs/${run.repeats.id}`}>run {run.repeats.number}</Link></>}
      </Typography>
      <OpenSignals of={run.judgements.flatMap((j) => j.results.map((r) => r.characteristic))} />
      <Paper component="section" aria-label="Verdict" sx={{ p: 2, mb: 2 }}>
        <Box role="status" sx={{ fontSize: '1.25rem', mb: 1 }}><OutcomeMark outcome={run.outcome} /></Box>
        <Settling run={run} />
      </Paper>
      <Paper component="ul" aria-label="Results" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {run.judgements.map((judged) => (
          <Box
            component="li"
            key={judged.analyte}
            sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '180px minmax(0, 1.2fr) minmax(0, 1fr)' }, gap: 2, px: 2, py: 1.25, '&:not(:first-of-type)': { borderTop: 1, borderColor: 'divider' } }}
          >
            <Box><Typography sx={{ fontWeight: 650 }}>{judged.name}</Typography><Typography variant="body2" color="text.secondary">{unit(judged.analyte)}</Typography></Box>
            <Box component="dl" sx={{ m: 0, display: 'flex', flexWrap: 'wrap', columnGap: 3, '& dd': { m: 0 } }}>
              {judged.results.map((r) => (
                <Box key={r.characteristic}>
                  <Box component="dt" sx={{ color: 'text.secondary', fontSize: '0.85rem' }}>
                    <Link component={RouterLink} to={`/charts/${r.characteristic}`} color="inherit">{r.level}</Link>
                  </Box>
                  <Box component="dd" sx={{ fontSize: '1.25rem', fontVariantNumeric: 'tabular-nums' }}>{figure(r.value, decimals(judged.analyte))}</Box>
                  <Box component="dd" sx={{ color: 'text.secondary', fontSize: '0.85rem' }}>{r.z == null ? '' : sdApart(r.z)}</Box>
                </Box>
              ))}
            </Box>
            <Box>
              <OutcomeMark outcome={judged.outcome} short />
              {findingsInWords(judged).map((sentence) => <Typography key={sentence} variant="body2">{sentence}</Typography>)}
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
  const mayRelease = useMay('release_run');
  const mayOverride = useMay('override_run');
  const client = useQueryClient();
  const [failure, setFailure] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const [because, setBecause] = useState<string | null>(null);
  const take = async (step: () => Promise<RunView>) => {
    setBusy(true);
    setFailure(null);
    try {
      client.setQueryData(queries.run(run.id).queryKey, await step());
      setBecause(null);
    } catch (error) {
      setFailure(error);
    }
    setBusy(false);
    void touch(client, { kind: 'run', station: run.station });
  };
  const path = { id: run.id };
  const release = () => take(() => answered(api.POST('/api/runs/{id}/release', { params: { path }, body: { version: run.version } })));
  const override = () => take(() => answered(api.POST('/api/runs/{id}/override', { params: { path }, body: { version: run.version, because: because ?? '' } })));
  const { steps } = run;
  const settled = steps.repeat === 'released' || steps.repeat === 'repeated';
  const blocked = steps.release === 'rejected' || steps.release === 'incomplete';
  // About a run that was not accepted somebody else decides.
  const own = steps.release === 'own_run' || steps.overriding === 'own_run';
  return (
    <Stack spacing={1.25}>
      {run.overridden && <Notice kind="caution">{run.outcome === 'rejected' ? 'The rejection was overridden' : 'It was let through incomplete'} {when(run.overridden.at)} by {run.overridden.person}: {run.overridden.because}</Notice>}
      {run.verdict_since && <Notice kind="caution">A result was corrected after the release. By the results as they are now the run would be: {OUTCOMES[run.verdict_since]}.</Notice>}
      {run.released && <Notice kind="settled">Released {when(run.released.at)} by {run.released.person}.</Notice>}
      {run.repeated_by && <Notice kind="settled">Repeated by <Link component={RouterLink} to={`/lab/runs/${run.repeated_by.id}`}>run {run.repeated_by.number}</Link>.</Notice>}
      {run.missing.length > 0 && <Notice kind="caution">{missingInWords(run.missing)} Without {run.missing.length === 1 ? 'it' : 'them'} the run is not accepted by itself.</Notice>}
      {!settled && blocked && <Typography>The run may not be released. {run.outcome === 'rejected' ? 'Look for the cause, then repeat it' : 'Repeat it with all levels'}{mayOverride && !own ? '' : '; a supervisor who did not run it may override that'}.</Typography>}
      {!settled && !blocked && own && <Typography>Whoever ran it does not release it. Somebody else does.</Typography>}
      {failure != null && <Notice kind="problem">{sentenceFor(failure)}</Notice>}
      {!settled && mayEnter && (
        <Stack direction="row" sx={{ gap: 1.5, flexWrap: 'wrap' }}>
          {mayRelease && steps.release == null && <Button autoFocus variant="contained" size="large" disabled={busy} onClick={() => void release()} sx={{ minHeight: 48 }}>Release the run</Button>}
          <Button component={RouterLink} to={`/lab?bench=${run.station}&repeats=${run.id}`} variant={blocked ? 'contained' : 'outlined'} color={blocked ? 'primary' : 'inherit'} size="large" sx={{ minHeight: 48 }}>Repeat the run</Button>
          {mayOverride && steps.overriding == null && because === null && <Button color="inherit" onClick={() => setBecause('')}>{run.outcome === 'rejected' ? 'Override the verdict …' : 'Let it through incomplete …'}</Button>}
        </Stack>
      )}
      {!settled && because !== null && (
        <Stack component="form" spacing={1.5} onSubmit={(event) => { event.preventDefault(); void override(); }}>
          <TextField autoFocus label={run.outcome === 'rejected' ? 'Why the rejection does not stand' : 'Why it may go without them'} value={because} onChange={(event) => setBecause(event.target.value)} multiline minRows={2} slotProps={{ htmlInput: { maxLength: 2000 } }} />
          <Stack direction="row" spacing={1}>
            <Button type="submit" variant="contained" disabled={busy || because.trim() === ''}>{run.outcome === 'rejected' ? 'Override the verdict' : 'Let it through incomplete'}</Button>
            <Button color="inherit" onClick={() => setBecause(null)}>Back</Button>
          </Stack>
        </Stack>
      )}
      {settled && mayEnter && <Button component={RouterLink} to={`/lab?bench=${run.station}`} variant="outlined" sx={{ alignSelf: 'start' }}>Start the next run</Button>}
    </Stack>
  );
}
