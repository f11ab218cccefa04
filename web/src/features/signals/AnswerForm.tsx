import { zodResolver } from '@hookform/resolvers/zod';
import {
  Box,
  Button,
  Checkbox,
  FormControl,
  FormControlLabel,
  FormHelperText,
  FormLabel,
  Radio,
  RadioGroup,
  Stack,
  TextField,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import { z } from 'zod';
import { answered, api, type Cause, type SignalView } from '../../api/client';
import { queries } from '../../api/queries';
import { usePerson } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { useKeys } from '../../ui/useKeys';
import { ANSWER, PHRASES } from '../../words/signalPages';
import { keepAnswer, loadAnswer } from './answerDraft';
import { useStep } from './useStep';

const OTHER = 'other';
const NOTHING = 'nothing';
const LONGEST = 2000;

const schema = z
  .object({
    cause: z.string().min(1, ANSWER.chooseCause),
    causeText: z.string().trim().max(LONGEST, ANSWER.tooLong),
    forAll: z.boolean(),
    action: z.string().trim().max(LONGEST, ANSWER.tooLong),
  })
  // Who looked and found nothing has said what was done.
  .refine((answer) => answer.cause === NOTHING || answer.action !== '', { path: ['action'], message: ANSWER.sayDone })
  .refine((answer) => answer.cause !== OTHER || answer.causeText !== '', {
    path: ['causeText'],
    message: ANSWER.sayCause,
  });

/** Asks for cause and action. */
export function AnswerForm({
  signal,
  alike = [],
  focus = false,
  onLater,
  onAnswered,
  onDirty,
}: {
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
  const step = useStep(signal.id, async ({ cause, causeText, action, forAll }: z.infer<typeof schema>) => {
    const given = {
      action: action === '' ? ANSWER.lookedOnly : action,
      nothing_found: cause === NOTHING,
      cause: cause === OTHER || cause === NOTHING ? null : cause,
      cause_text: cause === OTHER ? causeText : null,
    };
    const answer = (id: string, version: number) =>
      answered(api.POST('/api/signals/{id}/answers', { params: { path: { id } }, body: { ...given, version } }));
    const view = await answer(signal.id, signal.version);
    const others = forAll ? alike : [];
    for (const id of others) {
      const other = await answered(api.GET('/api/signals/{id}', { params: { path: { id } } }));
      await answer(id, other.version);
    }
    keepAnswer(person.id, signal.id, null);
    onAnswered?.([signal.id, ...others]);
    return view;
  });
  const blank = { cause: '', causeText: '', action: '', forAll: alike.length > 0 };
  const [kept] = useState(() => loadAnswer(person.id, signal.id));
  const {
    register,
    control,
    handleSubmit,
    setFocus,
    setValue,
    getValues,
    subscribe,
    formState: { errors, isDirty },
  } = useForm({
    resolver: zodResolver(schema),
    defaultValues: blank,
    ...(kept && { values: { ...blank, ...kept }, resetOptions: { keepDefaultValues: true } }),
  });
  useEffect(
    () =>
      subscribe({
        formState: { values: true },
        callback: ({ values: { cause, causeText, action } }) =>
          keepAnswer(person.id, signal.id, { cause, causeText, action }),
      }),
    [subscribe, person.id, signal.id],
  );
  useEffect(() => onDirty?.(isDirty), [isDirty, onDirty]);
  const cause = useWatch({ control, name: 'cause' });
  const ready = causes.data !== undefined;
  useEffect(() => {
    if (focus && ready) setFocus('cause');
  }, [focus, ready, setFocus]);
  const submit = handleSubmit((given) => step.mutate(given));
  useKeys((event) => {
    if (event.key === 'Enter' && event.ctrlKey) void submit();
  });
  const say = (phrase: string) => {
    const said = getValues('action').trim();
    setValue('action', said === '' ? phrase : `${said} ${phrase}`, {
      shouldDirty: true,
      shouldValidate: Boolean(errors.action),
    });
  };
  return (
    <Stack component="form" spacing={1.5} noValidate aria-label={ANSWER.title} onSubmit={(event) => void submit(event)}>
      <FormControl error={Boolean(errors.cause)}>
        <FormLabel id="cause">{ANSWER.cause}</FormLabel>
        <Controller
          name="cause"
          control={control}
          render={({ field: { ref, ...field } }) => (
            <RadioGroup
              aria-labelledby="cause"
              {...field}
              sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(165px, 1fr))', columnGap: 1 }}
            >
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
      {cause === OTHER && <TextInput control={control} name="causeText" label={ANSWER.causeInWords} />}
      <TextField
        label={ANSWER.done}
        multiline
        error={Boolean(errors.action)}
        helperText={errors.action?.message}
        slotProps={{ inputLabel: { shrink: true } }}
        {...register('action')}
      />
      <Box role="group" aria-label={ANSWER.phrases} sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap' }}>
        {PHRASES.map((phrase) => (
          <Button
            key={phrase}
            size="small"
            variant="outlined"
            color="inherit"
            sx={{ minHeight: 48 }}
            onClick={() => say(phrase)}
          >
            {phrase}
          </Button>
        ))}
      </Box>
      {alike.length > 0 && (
        <FormControlLabel
          control={<Checkbox defaultChecked {...register('forAll')} />}
          label={ANSWER.forAll(alike.length)}
          sx={{ minHeight: 48 }}
        />
      )}
      <Failed why={step.error} />
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        <Button type="submit" variant="contained" disabled={step.isPending}>
          {ANSWER.save}&ensp;<kbd>Ctrl Enter</kbd>
        </Button>
        {onLater && <Button onClick={onLater}>{ANSWER.later}</Button>}
      </Box>
    </Stack>
  );
}

function choices(catalogue: readonly Cause[]): Cause[] {
  return [...catalogue, { id: OTHER, name: ANSWER.another }, { id: NOTHING, name: ANSWER.nothing }];
}
