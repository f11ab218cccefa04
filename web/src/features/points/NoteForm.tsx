import { zodResolver } from '@hookform/resolvers/zod';
import { Autocomplete, Button, Stack, TextField } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { type Control, useController, useForm } from 'react-hook-form';
import { v4 as uuid } from 'uuid';
import { z } from 'zod';
import { answered, api, type ChartNote } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { NOTES } from '../../words/notes';

const schema = z.object({
  text: z.string().trim().min(1, NOTES.empty).max(2000, NOTES.tooLong),
  mentions: z.array(z.object({ id: z.string(), name: z.string() })),
});
type Written = z.infer<typeof schema>;

interface Props {
  sample: string;
  characteristic: string;
  /** The note that is changed. */
  change?: ChartNote;
  /** The note that is answered. */
  answersTo?: ChartNote;
  onDone?: () => void;
}

/** Writes a note, answers one, or changes one's own. */
export function NoteForm({ sample, characteristic, change: given, answersTo, onDone }: Props) {
  const client = useQueryClient();
  // The version that is changed is the one that was seen, however often the chart is asked for meanwhile.
  const [change] = useState(given);
  // Sent again after a lost answer it is the same note.
  const [entry, setEntry] = useState(() => uuid());
  const start: Written = change ? { text: change.text, mentions: change.mentions } : { text: '', mentions: [] };
  const { control, handleSubmit, reset } = useForm({ resolver: zodResolver(schema), defaultValues: start });
  const write = useMutation({
    mutationFn: async ({ text, mentions: people }: Written) => {
      const mentions = people.map(({ id }) => id);
      if (change) {
        const body = { version: change.version, text, mentions };
        await answered(api.PUT('/api/notes/{id}', { params: { path: { id: change.id } }, body }));
      } else {
        const body = { text, entry, mentions, answers_to: answersTo?.id ?? null };
        await answered(api.POST('/api/samples/{id}/notes', { params: { path: { id: sample } }, body }));
      }
      reset(start);
      setEntry(uuid());
      await touch(client, { kind: 'note', characteristic });
      onDone?.();
    },
  });
  const submit = handleSubmit((note) => write.mutate(note));
  return (
    <Stack component="form" spacing={1} noValidate onSubmit={(event) => void submit(event)}>
      <TextInput
        control={control}
        name="text"
        label={change ? NOTES.own : answersTo ? NOTES.answer : NOTES.note}
        multiline
        minRows={2}
        autoFocus={onDone !== undefined}
      />
      <Mentions control={control} />
      <Failed why={write.error} />
      <Stack direction="row" spacing={1}>
        <Button type="submit" variant="outlined" disabled={write.isPending}>
          {change ? NOTES.keep : answersTo ? NOTES.sendReply : NOTES.write}
        </Button>
        {onDone && (
          <Button color="inherit" onClick={onDone}>
            {NOTES.leave}
          </Button>
        )}
      </Stack>
    </Stack>
  );
}

/** Whom a note is meant for. */
function Mentions({ control }: { control: Control<Written> }) {
  const { field } = useController({ control, name: 'mentions' });
  const people = useQuery(queries.people).data ?? [];
  return (
    <Autocomplete
      multiple
      size="small"
      options={people.filter((person) => person.has_bell).map(({ id, name }) => ({ id, name }))}
      getOptionLabel={({ name }) => name}
      getOptionKey={({ id }) => id}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      filterSelectedOptions
      value={field.value}
      onChange={(_, chosen) => field.onChange(chosen)}
      onBlur={field.onBlur}
      noOptionsText={NOTES.nobody}
      renderInput={(input) => (
        <TextField {...input} label={NOTES.for} {...(field.value.length > 0 && { helperText: NOTES.rings })} />
      )}
    />
  );
}
