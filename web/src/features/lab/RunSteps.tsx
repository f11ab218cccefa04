import { Button, Link, Stack, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { Link as RouterLink } from 'react-router';
import { answered, api, type RunView } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { useMay, useMayAt } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { Notice } from '../../ui/Notice';
import { missingInWords } from '../../words/lab';
import { RUN } from '../../words/run';

/** What became of the run, or what can be done with it. */
export function RunSteps({ run }: { run: RunView }) {
  const mayEnter = useMayAt('enter_sample', run.station);
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
  const mayRelease = useMayAt('release_run', run.station);
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
