import { Button, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, type UseFormReturn, useWatch } from 'react-hook-form';
import type { LimitsPath, LimitsView, PhaseRow } from '../../api/client';
import { Failure } from '../../api/failure';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import { Select, TextInput } from '../../ui/fields';
import { Notice } from '../../ui/Notice';
import { fieldRefused } from '../../words/fields';
import { PUT_IN_FORCE, unfitInWords } from '../../words/limits';
import { useLimitsChange } from '../points';
import { blankLimits, FIELD_OF, type LimitsFields, limitsOf, unreadable } from './limitsForm';

/** Puts limits in force: with a name and a remark, and a reason where something speaks against them. */
export function PutInForce({ view, path, phase }: { view: LimitsView; path: LimitsPath; phase: PhaseRow }) {
  const change = useLimitsChange(view.characteristic.id);
  const [done, setDone] = useState(false);
  const form = useForm<LimitsFields>({ defaultValues: blankLimits(phase.name, path) });
  const { control, handleSubmit, setError, reset } = form;
  const basis = useWatch({ control, name: 'basis' });
  if (phase.state === 'retired') {
    return (
      <Paper component="section" aria-label={PUT_IN_FORCE.title} sx={{ p: 2 }}>
        <Typography>{PUT_IN_FORCE.retired}</Typography>
      </Paper>
    );
  }
  const revises = phase.state === 'in_force';
  const estimated = basis === 'phase' || basis === 'stretch' || basis === 'chosen';
  const submit = handleSubmit((fields) => {
    setDone(false);
    const wrong = unreadable(fields, path, estimated && path.unfit.length > 0);
    for (const [name, message] of wrong) setError(name, { message }, { shouldFocus: name === wrong[0]?.[0] });
    if (wrong.length > 0) return;
    change.mutate(
      { change: 'put_in_force', phase: phase.id, limits: limitsOf(fields, path, revises) },
      {
        onSuccess: ({ judging }) => {
          setDone(judging === 0);
          reset(blankLimits(phase.name, path));
        },
        onError: (error) => {
          if (!(error instanceof Failure)) return;
          if (error.fault.code === 'reason_needed')
            setError('reason', { message: PUT_IN_FORCE.sayReason }, { shouldFocus: true });
          if (error.fault.code !== 'field_refused') return;
          const name = FIELD_OF[error.fault.params.field];
          if (name) setError(name, { message: fieldRefused(error.fault.params) }, { shouldFocus: true });
        },
      },
    );
  });
  return (
    <Paper
      component="form"
      noValidate
      aria-label={PUT_IN_FORCE.title}
      sx={{ p: 2 }}
      onSubmit={(event) => void submit(event)}
    >
      <Typography variant="h2" sx={{ mb: 1 }}>
        {revises ? PUT_IN_FORCE.revisesTitle : PUT_IN_FORCE.title}
      </Typography>
      <Stack spacing={1.5}>
        {revises && <Typography color="text.secondary">{PUT_IN_FORCE.revises}</Typography>}
        <Select control={control} name="basis" label={PUT_IN_FORCE.from} options={Object.entries(PUT_IN_FORCE.basis)} />
        {basis === 'stretch' && (
          <Stack direction="row" spacing={1}>
            <TextInput control={control} name="first" label={PUT_IN_FORCE.firstSample} keys="numeric" />
            <TextInput control={control} name="last" label={PUT_IN_FORCE.lastSample} keys="numeric" />
          </Stack>
        )}
        {basis === 'chosen' && <TextInput control={control} name="samples" label={PUT_IN_FORCE.samples} />}
        {basis === 'given' && <Given view={view} form={form} />}
        {basis === 'copied' && <Twins view={view} form={form} />}
        <Stack direction="row" spacing={1}>
          <TextInput
            control={control}
            name="lower"
            label={PUT_IN_FORCE.lower}
            help={PUT_IN_FORCE.insteadOf}
            keys="decimal"
          />
          <TextInput control={control} name="upper" label={PUT_IN_FORCE.upper} keys="decimal" />
        </Stack>
        {revises && (
          <TextInput
            control={control}
            name="begins"
            label={PUT_IN_FORCE.beginsAt}
            help={PUT_IN_FORCE.nextSample}
            keys="numeric"
          />
        )}
        <TextInput control={control} name="name" label={PUT_IN_FORCE.name} />
        <TextInput control={control} name="remark" label={PUT_IN_FORCE.remark} multiline />
        <TextInput control={control} name="nextLook" label={PUT_IN_FORCE.nextLook} type="date" />
        {estimated && path.unfit.length > 0 && (
          <>
            <Typography sx={{ fontWeight: 600 }}>{PUT_IN_FORCE.speaksAgainst}</Typography>
            {path.unfit.map((unfit) => (
              <Typography key={unfit.code}>{unfitInWords(unfit)}</Typography>
            ))}
            <TextInput control={control} name="reason" label={PUT_IN_FORCE.reason} multiline />
          </>
        )}
        <Failed why={change.error} />
        {done && <Notice kind="settled">{PUT_IN_FORCE.done}</Notice>}
        <Button
          type="submit"
          variant="contained"
          disabled={change.isPending}
          sx={{ alignSelf: 'start', minHeight: 48 }}
        >
          {PUT_IN_FORCE.do}
        </Button>
      </Stack>
    </Paper>
  );
}

interface OfForm {
  view: LimitsView;
  form: UseFormReturn<LimitsFields>;
}

function Given({ view, form: { control } }: OfForm) {
  const { kind, chart } = view.characteristic;
  const takesSigma = kind === 'measured' || chart === 'p_prime' || chart === 'u_prime';
  return (
    <>
      <Stack direction="row" spacing={1}>
        {chart === 't' ? (
          <>
            <TextInput control={control} name="shape" label={PUT_IN_FORCE.shape} keys="decimal" />
            <TextInput control={control} name="scale" label={PUT_IN_FORCE.scale} keys="decimal" />
          </>
        ) : (
          <TextInput control={control} name="center" label={PUT_IN_FORCE.centre} keys="decimal" />
        )}
        {takesSigma && chart !== 'run' && (
          <TextInput control={control} name="sigma" label={PUT_IN_FORCE.sigma} keys="decimal" />
        )}
        {chart === 'between_within' && (
          <TextInput control={control} name="sigmaBetween" label={PUT_IN_FORCE.sigmaBetween} keys="decimal" />
        )}
      </Stack>
      <TextInput control={control} name="source" label={PUT_IN_FORCE.source} multiline />
    </>
  );
}

/** Characteristics on the same chart, whose limits can be copied. */
function Twins({ view, form: { control } }: OfForm) {
  const plan = useQuery(queries.plan);
  const { id, chart } = view.characteristic;
  const twins = (plan.data?.characteristics ?? []).filter((c) => c.id !== id && c.chart === chart);
  return (
    <Select
      control={control}
      name="twin"
      label={PUT_IN_FORCE.copyOf}
      options={twins.map((c) => [c.id, `${c.name} · ${c.product} · ${c.station}`])}
    />
  );
}
