import { zodResolver } from '@hookform/resolvers/zod';
import { Button, FormControl, FormControlLabel, FormLabel, Radio, RadioGroup, Stack } from '@mui/material';
import { useEffect } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import { z } from 'zod';
import { answered, api, type SignalView } from '../../api/client';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { REVIEW } from '../../words/signalPages';
import { useStep } from './useStep';

const DECISIONS = ['accepted', 'sent_back', 'overruled'] as const;

const schema = z
  .object({ decision: z.enum(DECISIONS), remark: z.string().trim().max(2000, REVIEW.tooLong) })
  .refine((review) => review.decision === 'accepted' || review.remark !== '', {
    path: ['remark'],
    message: REVIEW.needsWords,
  });

type Review = z.infer<typeof schema>;

/** The supervisor's decision. */
export function ReviewForm({
  signal,
  onDirty,
  onReviewed,
}: {
  signal: SignalView;
  onDirty: (dirty: boolean) => void;
  onReviewed: () => void;
}) {
  const { id, version } = signal;
  const step = useStep(id, ({ decision, remark }: Review) =>
    answered(
      api.POST('/api/signals/{id}/reviews', {
        params: { path: { id } },
        body: { version, decision, remark: remark === '' ? null : remark },
      }),
    ),
  );
  const {
    control,
    handleSubmit,
    formState: { isDirty },
  } = useForm<Review>({
    resolver: zodResolver(schema),
    defaultValues: { decision: 'accepted', remark: '' },
  });
  useEffect(() => onDirty(isDirty), [isDirty, onDirty]);
  const decision = useWatch({ control, name: 'decision' });
  const submit = handleSubmit((review) => step.mutate(review, { onSuccess: onReviewed }));
  return (
    <Stack component="form" spacing={1.5} noValidate aria-label={REVIEW.title} onSubmit={(event) => void submit(event)}>
      <FormControl>
        <FormLabel id="decision">{REVIEW.title}</FormLabel>
        <Controller
          name="decision"
          control={control}
          render={({ field }) => (
            <RadioGroup aria-labelledby="decision" {...field}>
              {DECISIONS.filter((value) => value !== 'sent_back' || signal.cleared_by == null).map((value) => (
                <FormControlLabel
                  key={value}
                  value={value}
                  label={REVIEW.choice[value]}
                  control={<Radio />}
                  sx={{ minHeight: 48 }}
                />
              ))}
            </RadioGroup>
          )}
        />
      </FormControl>
      <TextInput control={control} name="remark" label={REVIEW.remark[decision]} multiline minRows={2} />
      <Failed why={step.error} />
      <Button type="submit" variant="contained" disabled={step.isPending} sx={{ alignSelf: 'start' }}>
        {REVIEW.button[decision]}
      </Button>
    </Stack>
  );
}
