import { Button, Stack } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useForm } from 'react-hook-form';
import { POINTS_AT_MOST, queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { useAddress } from '../../ui/useAddress';
import { PUT_IN_FORCE, STRETCH } from '../../words/limits';
import { useSampleByNumber } from './sampleByNumber';

/** Narrows the path to a stretch of the phase, by the numbers of its first and last sample; the address keeps it. */
export function StretchPick({ characteristic }: { characteristic: string }) {
  const { params, put } = useAddress();
  const chart = useQuery(queries.chart(characteristic, { last: POINTS_AT_MOST }));
  const numberOf = (sample: string | null) =>
    String(chart.data?.points.find((point) => point.sample === sample)?.number ?? '');
  const narrowed = { first: numberOf(params.get('first')), last: numberOf(params.get('last')) };
  const { control, handleSubmit, setError, reset } = useForm({ values: narrowed });
  const askSamples = useSampleByNumber(characteristic);
  const use = useMutation({
    mutationFn: async (typed: Record<'first' | 'last', string>) => ({ typed, idOf: await askSamples() }),
    onSuccess: ({ typed, idOf }) => {
      const wrong = (['first', 'last'] as const).filter(
        (end) => typed[end].trim() !== '' && idOf(typed[end]) === undefined,
      );
      for (const end of wrong) setError(end, { message: PUT_IN_FORCE.noSuchSample }, { shouldFocus: end === wrong[0] });
      if (wrong.length === 0) put({ first: idOf(typed.first) ?? null, last: idOf(typed.last) ?? null });
    },
  });
  const submit = handleSubmit((typed) => {
    use.mutate(typed);
  });
  return (
    <Stack
      component="form"
      direction="row"
      noValidate
      aria-label={STRETCH.title}
      sx={{ gap: 1, mt: 1, flexWrap: 'wrap', alignItems: 'flex-start' }}
      onSubmit={(event) => void submit(event)}
    >
      <TextInput control={control} name="first" label={STRETCH.first} keys="numeric" size="small" sx={{ width: 170 }} />
      <TextInput control={control} name="last" label={STRETCH.last} keys="numeric" size="small" sx={{ width: 170 }} />
      <Button type="submit" variant="outlined" color="inherit" disabled={use.isPending}>
        {STRETCH.use}
      </Button>
      {(params.get('first') ?? params.get('last')) !== null && (
        <Button
          color="inherit"
          onClick={() => {
            put({ first: null, last: null });
            reset({ first: '', last: '' });
          }}
        >
          {STRETCH.all}
        </Button>
      )}
      <Failed why={use.error} />
    </Stack>
  );
}
