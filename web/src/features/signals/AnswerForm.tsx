import { zodResolver } from '@hookform/resolvers/zod';
import { Box, Button, Checkbox, FormControl, FormControlLabel, FormHelperText, FormLabel, Radio, RadioGroup, Stack, TextField } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import { z } from 'zod';
import { answered, api, type Cause, type SignalView } from '../../api/client';
import { queries } from '../../api/queries';
import { usePerson } from '../../session/session';
import { Notice } from '../../ui/Notice';
import { useKeys } from '../../ui/useKeys';
import { sentenceFor } from '../../words/failures';
import { inWords } from '../../words/numbers';
import { PHRASES } from '../../words/signals';
import { keepAnswer, loadAnswer } from './answerDraft';
import { useStep } from './useStep';

const OTHER = 'other';
const NOTHING = 'nothing';
const LONGEST = 2000;

const schema = z
  .object({
    cause: z.string().min(1, 'Choose a cause, or say that nothing was found.'),
    causeText: z.string().trim().max(LONGEST, 'This is longer than 2000 characters.'),
    forAll: z.boolean(),
    action: z.string().trim().max(LONGEST, 'This is longer than 2000 characters.'),
  })
  // Who looked and found nothing has said what was done.
  .refine((answer) => answer.cause === NOTHING || answer.action !== '', { path: ['action'], message: 'Say what was done, even if it was only looking.' })
  .refine((answer) => answer.cause !== OTHER || answer.causeText !== '', { path: ['causeText'], message: 'Say the cause in a few words.' });

/** Asks for cause and action. */
export function AnswerForm({ signal, alike = [], focus = false, onLater, onAnswered, onDirty }: {
  signal: SignalView;
  /** Other signals that this answer may hold for too. */
  alike?: readonly string[];
  focus?: boolean;
  onLater?: () => void;
  onAnswered?: (ids: readonly string[]) => void;
  onDirty?: (dirty: boolean) => void;
}) {
  const person = usePerson();
  const { characteristic } = signal;
  const causes = useQuery(queries.causes(characteristic));
  const { failure, take } = useStep(signal.id);
  const blank = { cause: '', causeText: '', action: '', forAll: alike.length > 0 };
  const [kept] = useState(() => loadAnswer(person.id, signal.id));
  const { register, control, handleSubmit, setFocus, setValue, getValues, subscribe, formState: { errors, isSubmitting, isDirty } } = useForm({
    resolver: zodResolver(schema),
    defaultValues: blank,
    ...(kept && { values: { ...blank, ...kept }, resetOptions: { keepDefaultValues: true } }),
  });
  useEffect(() => subscribe({
    formState: { values: true },
    callback: ({ values: { cause, causeText, action } }) => keepAnswer(person.id, signal.id, { cause, causeText, action }),
  }), [subscribe, person.id, signal.id]);
  useEffect(() => onDirty?.(isDirty), [isDirty, onDirty]);
  const cause = useWatch({ control, name: 'cause' });
  const ready = causes.data !== undefined;
  useEffect(() => {
    if (focus && ready) setFocus('cause');
  }, [focus, ready, setFocus]);
  const submit = handleSubmit(async ({ cause, causeText, action, forAll }) => {
    const given = {
      action: action === '' ? 'Looked, nothing found.' : action,
      nothing_found: cause === NOTHING,
      cause: cause === OTHER || cause === NOTHING ? null : cause,
      cause_text: cause === OTHER ? causeText : null,
    };
    const answer = (id: string, version: number) =>
      answered(api.POST('/api/signals/{id}/answers', { params: { path: { id } }, body: { ...given, version } }));
    const done = [signal.id];
    const saved = await take(async () => {
      const view = await answer(signal.id, signal.version);
      for (const id of forAll ? alike : []) {
        const other = await answered(api.GET('/api/signals/{id}', { params: { path: { id } } }));
        await answer(id, other.version);
        done.push(id);
      }
      return view;
    });
    if (!saved) return;
    keepAnswer(person.id, signal.id, null);
    onAnswered?.(done);
  });
  useKeys((event) => {
    if (event.key === 'Enter' && event.ctrlKey) void submit();
  });
  const say = (phrase: string) => {
    const said = getValues('action').trim();
    setValue('action', said === '' ? phrase : `${said} ${phrase}`, { shouldDirty: true, shouldValidate: Boolean(errors.action) });
  };
  return (
    <Stack
      component="form"
      spacing={1.5}
      noValidate
      aria-label="Answer"
      onSubmit={(event) => void submit(event)}
    >
      <FormControl error={Boolean(errors.cause)}>
        <FormLabel id="cause">What was the cause?</FormLabel>
        <Controller
          name="cause"
          control={control}
          render={({ field: { ref, ...field } }) => (
            <RadioGroup aria-labelledby="cause" {...field} sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(165px, 1fr))', columnGap: 1 }}>
              {choices(causes.data ?? []).map(({ id, name }, i) => (
                <FormControlLabel
                  key={id}
                  value={id}
                  label={name}
                  control={<Radio slotProps={{ input: i === 0 ? { ref } : {} }} />}
                  sx={{ minHeight: 48, mr: 0 }}
                />
              ))}
            </RadioGroup>
          )}
        />
        {errors.cause && <FormHelperText>{errors.cause.message}</FormHelperText>}
      </FormControl>
      {cause === OTHER && (
        <TextField label="The cause, in words" error={Boolean(errors.causeText)} helperText={errors.causeText?.message} {...register('causeText')} />
      )}
      <TextField label="What was done" multiline error={Boolean(errors.action)} helperText={errors.action?.message} slotProps={{ inputLabel: { shrink: true } }} {...register('action')} />
      <Box role="group" aria-label="Ready phrases" sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap' }}>
        {PHRASES.map((phrase) => (
          <Button key={phrase} size="small" variant="outlined" color="inherit" sx={{ minHeight: 48 }} onClick={() => say(phrase)}>{phrase}</Button>
        ))}
      </Box>
      {alike.length > 0 && (
        <FormControlLabel
          control={<Checkbox defaultChecked {...register('forAll')} />}
          label={`Holds for ${alike.length === 1 ? 'the other signal' : `the other ${inWords(alike.length)} signals`} of this sample too`}
          sx={{ minHeight: 48 }}
        />
      )}
      {failure != null && <Notice kind="problem">{sentenceFor(failure)}</Notice>}
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        <Button type="submit" variant="contained" disabled={isSubmitting}>
          Save answer&ensp;<kbd>Ctrl Enter</kbd>
        </Button>
        {onLater && <Button onClick={onLater}>Answer later</Button>}
      </Box>
    </Stack>
  );
}

function choices(catalogue: readonly Cause[]): Cause[] {
  return [...catalogue, { id: OTHER, name: 'Another cause' }, { id: NOTHING, name: 'Looked, nothing found' }];
}
