import { zodResolver } from '@hookform/resolvers/zod';
import {
  Box,
  Button,
  Checkbox,
  FormControl,
  FormControlLabel,
  FormLabel,
  Radio,
  RadioGroup,
  Stack,
  TextField,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import { v4 as uuid } from 'uuid';
import { z } from 'zod';
import type { EpisodeView } from '../../api/client';
import { queries } from '../../api/queries';
import { usePerson } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { TextInput, Tick } from '../../ui/fields';
import { useKeys } from '../../ui/useKeys';
import { madeInWords } from '../../words/explained';
import { ANSWER, PHRASES } from '../../words/signalPages';
import {
  type AnswerDraft,
  answerDeed,
  BLANK,
  givenBefore,
  keepAnswer,
  loadAnswer,
  NOTHING,
  OTHER,
  sameAs,
} from './answerDraft';
import { CauseChoice } from './CauseChoice';
import { FileChoice } from './FileChoice';
import { useSay } from './useSay';

const LONGEST = 2000;
/** What goes into the catalogue is short. */
const NAME_LONGEST = 80;

const schema = z
  .object({
    steps: z.array(z.string()),
    comment: z.string().trim().max(LONGEST, ANSWER.tooLong),
    held: z.enum(['', 'yes', 'no']),
    cause: z.string().min(1, ANSWER.chooseCause),
    causeText: z.string().trim().max(LONGEST, ANSWER.tooLong),
    propose: z.boolean(),
    action: z.string().trim().max(LONGEST, ANSWER.tooLong),
    corrected: z.boolean(),
    files: z.array(z.object({ id: z.string(), name: z.string(), bytes: z.number() })),
  })
  // Who looked and found nothing has said what was done.
  .refine((answer) => answer.cause === NOTHING || answer.action !== '', { path: ['action'], message: ANSWER.sayDone })
  .refine((answer) => answer.cause !== OTHER || answer.causeText !== '', {
    path: ['causeText'],
    message: ANSWER.sayCause,
  })
  .refine((answer) => answer.cause !== OTHER || !answer.propose || answer.causeText.length <= NAME_LONGEST, {
    path: ['causeText'],
    message: ANSWER.proposeShorter,
  });

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
  const ready = useQuery(queries.causes(episode.characteristic)).data !== undefined;
  const made = useQuery(queries.explained(episode.id)).data?.made;
  const say = useSay(episode, () => {
    keepAnswer(person.id, episode.id, null);
    onAnswered?.();
  });
  // Pressed twice, or again after a failure, it is one answer.
  const [entry] = useState(() => uuid());
  const [kept] = useState(() => loadAnswer(person.id, episode.id));
  const form = useForm<AnswerDraft>({
    resolver: zodResolver(schema),
    defaultValues: BLANK,
    ...(kept && { values: kept, resetOptions: { keepDefaultValues: true } }),
  });
  const { register, control, handleSubmit, setFocus, setValue, getValues, subscribe, formState } = form;
  const { errors, isDirty } = formState;
  useEffect(
    () =>
      subscribe({
        formState: { values: true },
        callback: ({ values }) => keepAnswer(person.id, episode.id, { ...BLANK, ...values }),
      }),
    [subscribe, person.id, episode.id],
  );
  useEffect(() => onDirty?.(isDirty), [isDirty, onDirty]);
  const cause = useWatch({ control, name: 'cause' });
  useEffect(() => {
    if (focus && ready) setFocus('cause');
  }, [focus, ready, setFocus]);
  const give = (given: AnswerDraft) => say.mutate(answerDeed(given, episode, entry));
  const submit = handleSubmit(give);
  const before = givenBefore(episode);
  useKeys((event) => {
    if (event.key === 'Enter' && event.ctrlKey) void submit();
    if (event.key === 'Enter' && event.altKey && before && !say.isPending) give(sameAs(before));
  });
  const phrase = (words: string) => {
    const said = getValues('action').trim();
    setValue('action', said === '' ? words : `${said} ${words}`, {
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
          disabled={say.isPending}
          onClick={() => give(sameAs(before))}
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
      <CauseChoice characteristic={episode.characteristic} control={control} />
      {cause === OTHER && (
        <Box>
          <TextInput control={control} name="causeText" label={ANSWER.causeInWords} sx={{ width: '100%' }} />
          <Tick control={control} name="propose" label={ANSWER.propose} />
        </Box>
      )}
      <TextField
        label={ANSWER.done}
        multiline
        error={Boolean(errors.action)}
        helperText={errors.action?.message}
        slotProps={{ inputLabel: { shrink: true } }}
        {...register('action')}
      />
      <Box role="group" aria-label={ANSWER.phrases} sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap' }}>
        {PHRASES.map((words) => (
          <Button
            key={words}
            size="small"
            variant="outlined"
            color="inherit"
            sx={{ minHeight: 48 }}
            onClick={() => phrase(words)}
          >
            {words}
          </Button>
        ))}
      </Box>
      <Tick control={control} name="corrected" label={ANSWER.corrected} />
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
      <Controller
        name="files"
        control={control}
        render={({ field }) => <FileChoice files={field.value} onChange={field.onChange} />}
      />
      <Failed why={say.error} />
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        <Button type="submit" variant="contained" disabled={say.isPending}>
          {ANSWER.save}&ensp;<kbd>Ctrl Enter</kbd>
        </Button>
        {onLater && <Button onClick={onLater}>{ANSWER.later}</Button>}
      </Box>
    </Stack>
  );
}
