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
import { type AnswerView, answered, api, type Cause, type EpisodeView } from '../../api/client';
import { queries } from '../../api/queries';
import { usePerson } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { useKeys } from '../../ui/useKeys';
import { madeInWords } from '../../words/explained';
import { ANSWER, PHRASES } from '../../words/signalPages';
import { keepAnswer, loadAnswer } from './answerDraft';
import { useStep } from './useStep';

const OTHER = 'other';
const NOTHING = 'nothing';
const LONGEST = 2000;

const schema = z
  .object({
    steps: z.array(z.string()),
    comment: z.string().trim().max(LONGEST, ANSWER.tooLong),
    held: z.enum(['', 'yes', 'no']),
    cause: z.string().min(1, ANSWER.chooseCause),
    causeText: z.string().trim().max(LONGEST, ANSWER.tooLong),
    action: z.string().trim().max(LONGEST, ANSWER.tooLong),
  })
  // Who looked and found nothing has said what was done.
  .refine((answer) => answer.cause === NOTHING || answer.action !== '', { path: ['action'], message: ANSWER.sayDone })
  .refine((answer) => answer.cause !== OTHER || answer.causeText !== '', {
    path: ['causeText'],
    message: ANSWER.sayCause,
  });

type Given = z.infer<typeof schema>;

/** Asks for cause and action. */
export function AnswerForm({
  episode,
  focus = false,
  onLater,
  onAnswered,
  onDirty,
}: {
  episode: EpisodeView;
  focus?: boolean;
  onLater?: () => void;
  onAnswered?: () => void;
  onDirty?: (dirty: boolean) => void;
}) {
  const person = usePerson();
  const causes = useQuery(queries.causes(episode.characteristic));
  const step = useStep(episode.id, async ({ cause, causeText, action, comment, steps, held }: Given) => {
    const view = await answered(
      api.POST('/api/episodes/{id}/answers', {
        params: { path: { id: episode.id } },
        body: {
          version: episode.version,
          action: action === '' ? ANSWER.lookedOnly : action,
          nothing_found: cause === NOTHING,
          cause: cause === OTHER || cause === NOTHING ? null : cause,
          cause_text: cause === OTHER ? causeText : null,
          comment: comment === '' ? null : comment,
          steps,
          held: held === '' ? null : held === 'yes',
        },
      }),
    );
    keepAnswer(person.id, episode.id, null);
    onAnswered?.();
    return view;
  });
  const made = useQuery(queries.explained(episode.id)).data?.made;
  const blank: Given = { cause: '', causeText: '', action: '', comment: '', steps: [], held: '' };
  const [kept] = useState(() => loadAnswer(person.id, episode.id));
  const {
    register,
    control,
    handleSubmit,
    setFocus,
    setValue,
    getValues,
    subscribe,
    formState: { errors, isDirty },
  } = useForm<Given>({
    resolver: zodResolver(schema),
    defaultValues: blank,
    ...(kept && { values: { ...blank, ...kept }, resetOptions: { keepDefaultValues: true } }),
  });
  useEffect(
    () =>
      subscribe({
        formState: { values: true },
        callback: ({ values: { cause, causeText, action, comment, steps, held } }) =>
          keepAnswer(person.id, episode.id, { cause, causeText, action, comment, steps, held }),
      }),
    [subscribe, person.id, episode.id],
  );
  useEffect(() => onDirty?.(isDirty), [isDirty, onDirty]);
  const cause = useWatch({ control, name: 'cause' });
  const ready = causes.data !== undefined;
  useEffect(() => {
    if (focus && ready) setFocus('cause');
  }, [focus, ready, setFocus]);
  const submit = handleSubmit((given) => step.mutate(given));
  const before = givenBefore(episode);
  useKeys((event) => {
    if (event.key === 'Enter' && event.ctrlKey) void submit();
    if (event.key === 'Enter' && event.altKey && before && !step.isPending) step.mutate(sameAs(before));
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
      {before && (
        <Button
          variant="outlined"
          sx={{ minHeight: 48, justifyContent: 'start', textAlign: 'start' }}
          disabled={step.isPending}
          onClick={() => step.mutate(sameAs(before))}
        >
          <span>
            {ANSWER.sameAs(before.at)}: {before.cause ?? ANSWER.nothing}&ensp;<kbd>Alt Enter</kbd>
          </span>
        </Button>
      )}
      {episode.reaction_plan.length > 0 && (
        <FormControl>
          <FormLabel id="steps">{ANSWER.steps}</FormLabel>
          <Box role="group" aria-labelledby="steps" sx={{ display: 'grid' }}>
            {episode.reaction_plan.map((step) => (
              <FormControlLabel
                key={step}
                label={step}
                control={<Checkbox value={step} {...register('steps')} />}
                sx={{ minHeight: 48, mr: 0 }}
              />
            ))}
          </Box>
        </FormControl>
      )}
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
      {made && (
        <FormControl>
          <FormLabel id="held">
            {madeInWords(made)} {ANSWER.isHeld}
          </FormLabel>
          <Controller
            name="held"
            control={control}
            render={({ field }) => (
              <RadioGroup row aria-labelledby="held" {...field}>
                <FormControlLabel value="yes" label={ANSWER.held} control={<Radio />} sx={{ minHeight: 48 }} />
                <FormControlLabel value="no" label={ANSWER.notHeld} control={<Radio />} sx={{ minHeight: 48 }} />
              </RadioGroup>
            )}
          />
        </FormControl>
      )}
      <TextInput control={control} name="comment" label={ANSWER.comment} multiline />
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

/** The answer that stands for what this goes on from: one key gives it again. */
function givenBefore({ answers, follows }: EpisodeView): AnswerView | null {
  const standing = answers.findLast(({ review }) => review == null || review.decision === 'accepted');
  return standing ?? (answers.length === 0 ? (follows?.answer ?? null) : null);
}

function sameAs({ cause_id: id, cause, action }: AnswerView): Given {
  const of = id ?? (cause == null ? NOTHING : OTHER);
  return { cause: of, causeText: id == null ? (cause ?? '') : '', action, comment: '', steps: [], held: '' };
}

function choices(catalogue: readonly Cause[]): Cause[] {
  return [...catalogue, { id: OTHER, name: ANSWER.another }, { id: NOTHING, name: ANSWER.nothing }];
}
