import { zodResolver } from '@hookform/resolvers/zod';
import { Button, Paper, Stack } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useForm, useWatch } from 'react-hook-form';
import { z } from 'zod';
import type { LimitsChange } from '../../api/client';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import { Select, TextInput } from '../../ui/fields';
import { POINT_DEEDS } from '../../words/limits';
import { numberOf } from '../../words/numbers';
import { figuresOf } from './figures';

export type Deed = 'aside' | 'restart' | 'phase';

const OTHER = 'other';
const LONGEST = 2000;

const schema = z
  .object({
    deed: z.enum(['aside', 'restart', 'phase']),
    cause: z.string(),
    words: z.string().trim().max(LONGEST, POINT_DEEDS.tooLong),
    name: z.string().trim().max(80, POINT_DEEDS.sayName),
    with: z.enum(['trial', 'carried', 'given']),
    center: z.string(),
    sigma: z.string(),
    source: z.string().trim().max(LONGEST, POINT_DEEDS.tooLong),
  })
  .refine((f) => f.deed !== 'aside' || f.cause !== OTHER || f.words !== '', {
    path: ['words'],
    message: POINT_DEEDS.sayCause,
  })
  .refine((f) => f.deed !== 'restart' || f.words !== '', { path: ['words'], message: POINT_DEEDS.sayCorrected })
  .refine((f) => f.deed !== 'phase' || f.name !== '', { path: ['name'], message: POINT_DEEDS.sayName })
  .refine((f) => !gives(f) || !Number.isNaN(numberOf(f.center)), {
    path: ['center'],
    message: POINT_DEEDS.numberNeeded,
  })
  .refine((f) => !gives(f) || f.sigma.trim() === '' || !Number.isNaN(numberOf(f.sigma)), {
    path: ['sigma'],
    message: POINT_DEEDS.numberNeeded,
  })
  .refine((f) => !gives(f) || f.source !== '', { path: ['source'], message: POINT_DEEDS.saySource });

type Fields = z.infer<typeof schema>;

/** A phase that begins with given figures. */
function gives(f: { deed: Deed; with: 'trial' | 'carried' | 'given' }): boolean {
  return f.deed === 'phase' && f.with === 'given';
}

function limitsOf(f: Fields): Extract<LimitsChange, { change: 'start_phase' }>['limits'] {
  if (f.with !== 'given') return { with: f.with };
  const sigma = f.sigma.trim() === '' ? null : numberOf(f.sigma);
  return { with: 'given', figures: figuresOf({ center: numberOf(f.center), sigma }), source: f.source };
}

/** The change of a sample. */
export type ChangeOf = (sample: string) => LimitsChange;

const changeOf =
  (f: Fields): ChangeOf =>
  (sample) => {
    switch (f.deed) {
      case 'aside':
        return f.cause === OTHER
          ? { change: 'set_aside', sample, cause: null, cause_text: f.words }
          : { change: 'set_aside', sample, cause: f.cause, cause_text: null };
      case 'restart':
        return { change: 'restart', sample, reason: f.words };
      case 'phase':
        return { change: 'start_phase', sample, name: f.name, limits: limitsOf(f) };
    }
  };

/** Says what is done to a point, or to several, and why. */
export function DeedForm({
  deed,
  characteristic,
  change,
  make,
  onBack,
}: {
  deed: Deed;
  characteristic: string;
  change: { isPending: boolean; error: unknown };
  make: (of: ChangeOf) => void;
  onBack: () => void;
}) {
  const causes = useQuery(queries.causes(characteristic));
  const { control, handleSubmit } = useForm<Fields>({
    resolver: zodResolver(schema),
    defaultValues: { deed, cause: OTHER, words: '', name: '', with: 'trial', center: '', sigma: '', source: '' },
  });
  const [cause, begins] = useWatch({ control, name: ['cause', 'with'] });
  const submit = handleSubmit((fields) => make(changeOf(fields)));
  return (
    <Paper
      component="form"
      noValidate
      variant="outlined"
      aria-label={POINT_DEEDS.do[deed]}
      sx={{ p: 1.5, mt: 1 }}
      onSubmit={(event) => void submit(event)}
    >
      <Stack spacing={1.5}>
        {deed === 'aside' && (
          <Select
            control={control}
            name="cause"
            label={POINT_DEEDS.cause}
            options={[...(causes.data ?? []).map((c) => [c.id, c.name] as const), [OTHER, POINT_DEEDS.otherCause]]}
          />
        )}
        {((deed === 'aside' && cause === OTHER) || deed === 'restart') && (
          <TextInput
            control={control}
            name="words"
            label={deed === 'aside' ? POINT_DEEDS.otherCause : POINT_DEEDS.whatCorrected}
            multiline
            autoFocus
          />
        )}
        {deed === 'phase' && (
          <>
            <TextInput control={control} name="name" label={POINT_DEEDS.phaseName} autoFocus />
            <Select
              control={control}
              name="with"
              label={POINT_DEEDS.with}
              options={[
                ['trial', POINT_DEEDS.withTrial],
                ['carried', POINT_DEEDS.withCarried],
                ['given', POINT_DEEDS.withGiven],
              ]}
            />
            {begins === 'given' && (
              <>
                <Stack direction="row" spacing={1}>
                  <TextInput control={control} name="center" label={POINT_DEEDS.center} keys="decimal" />
                  <TextInput control={control} name="sigma" label={POINT_DEEDS.sigma} keys="decimal" />
                </Stack>
                <TextInput control={control} name="source" label={POINT_DEEDS.source} multiline />
              </>
            )}
          </>
        )}
        <Failed why={change.error} />
        <Stack direction="row" spacing={1}>
          <Button type="submit" variant="contained" disabled={change.isPending}>
            {POINT_DEEDS.do[deed]}
          </Button>
          <Button color="inherit" onClick={onBack}>
            {POINT_DEEDS.back}
          </Button>
        </Stack>
      </Stack>
    </Paper>
  );
}
