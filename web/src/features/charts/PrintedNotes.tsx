import { Box, Typography } from '@mui/material';
import type { ChartView } from '../../api/chart';
import { NOTES, writtenBy } from '../../words/notes';

/** Notes on the points of a chart, under it on paper: there is nothing to point at. */
export function PrintedNotes({ view }: { view: ChartView }) {
  if (view.notes.length === 0) return null;
  // A point with a note is drawn however many there are; what else is known of each is not always sent.
  const numbers = new Map(view.marks.place.map((place, mark) => [place, view.marks.number[mark] ?? 0]));
  return (
    <Box component="section" sx={{ display: 'none', displayPrint: 'block', mt: 1.5 }}>
      <Typography variant="h2">{NOTES.printed}</Typography>
      {view.notes.map((note) => (
        <Typography
          key={note.id}
          variant="body2"
          sx={{ breakInside: 'avoid', ...(note.answers_to != null && { pl: 2 }) }}
        >
          {note.answers_to == null ? <b>{NOTES.onSample(numbers.get(note.place) ?? 0)}: </b> : '↳ '}
          {note.text} ({writtenBy(note)})
        </Typography>
      ))}
    </Box>
  );
}
