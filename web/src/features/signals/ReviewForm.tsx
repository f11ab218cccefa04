import { zodResolver } from '@hookform/resolvers/zod';
import { Button, FormControl, FormControlLabel, FormHelperText, FormLabel, Radio, RadioGroup, Stack, TextField } from '@mui/material';
import { useEffect } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import { z } from 'zod';
import { answered, api, type SignalView } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { sentenceFor } from '../../words/failures';
import { useStep } from './useStep';

const WORDS = {
  accepted: { choice: 'Accept the answer', button: 'Accept', remark: 'Remark' },
  sent_back: { choice: 'Send back with a question', button: 'Send back', remark: 'Question' },
  overruled: { choice: 'Overrule, with a reason', button: 'Overrule', remark: 'Reason' },
} as const;

const schema = z
  .object({ decision: z.enum(['accepted', 'sent_back', 'overruled']), remark: z.string().trim().max(2000, 'This is longer than 2000 characters.') })
  .refine((review) => review.decision === 'accepted' || review.remark !== '', { path: ['remark'], message: 'This decision needs words.' });

/** The supervisor's decision. */
export function ReviewForm({ signal, onDirty, onReviewed }: {
  signal: SignalView;
  onDirty: (dirty: boolean) => void;
  onReviewed: () => void;
}) {
  const { failure, take } = useStep(signal.id);
  const { register, control, handleSubmit, formState: { errors, isSubmitting, isDirty } } = useForm({
    resolver: zodResolver(schema),
    defaultValues: { decision: 'accepted' as const, remark: '' },
  });
  useEffect(() => onDirty(isDirty), [isDirty, onDirty]);
  const decision: keyof typeof WORDS = useWatch({ control, name: 'decision' });
  const submit = handleSubmit(async ({ decision, remark }) => {
    const saved = await take(() =>
      answered(
        api.POST('/api/signals/{id}/reviews', {
          params: { path: { id: signal.id } },
          body: { version: signal.version, decision, remark: remark === '' ? null : remark },
        }),
      ),
    );
    if (saved) onReviewed();
  });
  return (
    <Stack component="form" spacing={1.5} noValidate aria-label="Review" onSubmit={(event) => void submit(event)}>
      <FormControl>
        <FormLabel id="decision">Review</FormLabel>
        <Controller
          name="decision"
          control={control}
          render={({ field }) => (
            <RadioGroup aria-labelledby="decision" {...field}>
              {Object.entries(WORDS).map(([value, { choice }]) => (
                <FormControlLabel key={value} value={value} label={choice} control={<Radio />} sx={{ minHeight: 48 }} />
              ))}
            </RadioGroup>
          )}
        />
        {errors.decision && <FormHelperText>{errors.decision.message}</FormHelperText>}
      </FormControl>
      <TextField label={WORDS[decision].remark} multiline minRows={2} error={Boolean(errors.remark)} helperText={errors.remark?.message} {...register('remark')} />
      {failure != null && <Notice kind="problem">{sentenceFor(failure)}</Notice>}
      <Button type="submit" variant="contained" disabled={isSubmitting} sx={{ alignSelf: 'start' }}>
        {WORDS[decision].button}
      </Button>
    </Stack>
  );
}
