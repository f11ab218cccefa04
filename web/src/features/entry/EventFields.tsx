import { TextField } from '@mui/material';
import type { ChartView } from '../../api/chart';
import { ENTRY } from '../../words/entry';
import type { EntryState } from './useEntry';

/** What is entered of a rare event: how many conformed since the one before, or when it happened. */
export function EventFields({
  entry,
  characteristic: { chart, unit },
  onLeave,
}: {
  entry: EntryState;
  characteristic: ChartView['characteristic'];
  onLeave: () => void;
}) {
  const { draft, change } = entry;
  const byTime = chart === 't';
  return (
    <TextField
      autoFocus
      type={byTime ? 'datetime-local' : 'text'}
      label={byTime ? ENTRY.when : ENTRY.between(unit)}
      helperText={byTime ? ENTRY.nowIfEmpty : undefined}
      value={byTime ? draft.when : draft.between}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { inputMode: 'numeric', autoComplete: 'off' } }}
      onChange={({ target: { value } }) => change((d) => (byTime ? { ...d, when: value } : { ...d, between: value }))}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && !event.ctrlKey && !event.altKey) entry.save();
        if (event.key === 'Escape') onLeave();
      }}
    />
  );
}
