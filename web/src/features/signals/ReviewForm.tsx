import { zodResolver } from '@hookform/resolvers/zod';
import { Button, FormControl, FormControlLabel, FormLabel, Radio, RadioGroup, Stack } from '@mui/material';
import { useEffect } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import { z } from 'zod';
import { answered, api, type EpisodeView } from '../../api/client';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { REVIEW } from '../../words/signalPages';
import { useStep } from './useStep';

const DECISIONS = ['accepted', 'seen', 'sent_back', 'overruled'] as const;

const schema = z
  .object({ decision: z.enum(DECISIONS), remark: z.string().trim().max(2000, REVIEW.tooLong) })
  .refine(({ decision, remark }) => decision === 'accepted' || decision === 'seen' || remark !== '', {
    path: ['remark'],
    message: REVIEW.needsWords,
  });

type Review = z.infer<typeof schema>;

/** The supervisor's decision. */
export function ReviewForm({
  episode,
  onDirty,
  onReviewed,
}: {
  episode: EpisodeView;
  onDirty: (dirty: boolean) => void;
  onReviewed: () => void;
}) {
  const { id, version, steps, state } = episode;
  const late = state === 'found_late';
  const step = useStep(id, ({ decision, remark }: Review) =>
    answered(
      api.POST('/api/episodes/{id}/reviews', {
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
    defaultValues: { decision: late ? 'seen' : 'accepted', remark: '' },
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
              {DECISIONS.filter(
                (value) => late === (value === 'seen') && (value !== 'sent_back' || steps.send_back),
              ).map((value) => (
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
