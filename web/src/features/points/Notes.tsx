import { Box, Button, Stack, Typography } from '@mui/material';
import { useState } from 'react';
import type { ChartView } from '../../api/chart';
import type { ChartNote } from '../../api/client';
import { useMay, usePerson } from '../../session/session';
import { NOTES, writtenBy } from '../../words/notes';
import { NoteForm } from './NoteForm';

interface Props {
  view: ChartView;
  point: { place: number; sample: string };
}

/** Stands in line with the words it follows. */
const DEED = { px: 1, ml: -1, minWidth: 48, fontSize: '0.9rem' };

/** What was said of a point, each note with its answers, and where one is written. */
export function Notes({ view, point }: Props) {
  const mayWrite = useMay('write_note');
  const notes = view.notes.filter((note) => note.place === point.place);
  const where = { sample: point.sample, characteristic: view.characteristic.id };
  if (notes.length === 0 && !mayWrite) return null;
  return (
    <Box component="section" aria-label={NOTES.title} sx={{ mt: 2, pt: 1.5, borderTop: 1, borderColor: 'divider' }}>
      {notes
        .filter((note) => note.answers_to == null)
        .map((first) => (
          <Conversation
            key={first.id}
            {...where}
            first={first}
            answers={notes.filter((note) => note.answers_to === first.id)}
          />
        ))}
      {mayWrite && <NoteForm {...where} />}
    </Box>
  );
}

interface Where {
  sample: string;
  characteristic: string;
}

function Conversation({ first, answers, ...where }: Where & { first: ChartNote; answers: readonly ChartNote[] }) {
  const mayWrite = useMay('write_note');
  const [answering, setAnswering] = useState(false);
  return (
    <Box sx={{ mb: 1.5 }}>
      <Note note={first} {...where} />
      {(answers.length > 0 || answering) && (
        <Stack sx={{ ml: 1, pl: 1.5, borderLeft: 2, borderColor: 'divider', gap: 1, mt: 1 }}>
          {answers.map((note) => (
            <Note key={note.id} note={note} {...where} />
          ))}
          {answering && <NoteForm {...where} answersTo={first} onDone={() => setAnswering(false)} />}
        </Stack>
      )}
      {mayWrite && !answering && (
        <Button color="inherit" sx={DEED} aria-label={NOTES.replyTo(first.person)} onClick={() => setAnswering(true)}>
          {NOTES.reply}
        </Button>
      )}
    </Box>
  );
}

function Note({ note, ...where }: Where & { note: ChartNote }) {
  const person = usePerson();
  const mayWrite = useMay('write_note');
  const [changing, setChanging] = useState(false);
  if (changing) return <NoteForm {...where} change={note} onDone={() => setChanging(false)} />;
  return (
    <Box component="article" aria-label={writtenBy(note)}>
      <Typography sx={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>{note.text}</Typography>
      <Box sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', columnGap: 1 }}>
        <Typography color="text.secondary" variant="body2">
          {writtenBy(note)}
        </Typography>
        {mayWrite && note.by === person.id && (
          <Button color="inherit" sx={DEED} aria-label={NOTES.changeOwn} onClick={() => setChanging(true)}>
            {NOTES.change}
          </Button>
        )}
      </Box>
    </Box>
  );
}
