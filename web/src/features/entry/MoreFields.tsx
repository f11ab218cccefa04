import { Stack, TextField } from '@mui/material';
import { ENTRY } from '../../words/entry';
import { capital } from '../../words/numbers';
import type { EntryState } from './useEntry';

/** Tags that are asked with the sample, remembered from the one before, and reference components. */
export function MoreFields({
  entry,
  components,
  parts,
}: {
  entry: EntryState;
  components: readonly string[];
  parts: readonly { name: string }[];
}) {
  const { draft, change } = entry;
  const hasParts = parts.length > 0;
  const tags = Object.keys(draft.tags).filter((name) => !(hasParts && name === 'part'));
  if (tags.length + components.length + parts.length === 0) return null;
  return (
    <Stack direction="row" spacing={1}>
      {hasParts && (
        <TextField
          select
          size="small"
          label={ENTRY.part}
          value={parts.some(({ name }) => name === draft.tags.part) ? draft.tags.part : ''}
          sx={{ minWidth: 120 }}
          slotProps={{ select: { native: true }, inputLabel: { shrink: true } }}
          onChange={(event) => change((d) => ({ ...d, tags: { ...d.tags, part: event.target.value } }))}
        >
          <option value="" />
          {parts.map(({ name }) => (
            <option key={name}>{name}</option>
          ))}
        </TextField>
      )}
      {components.map((name, place) => (
        <TextField
          key={name}
          size="small"
          label={name}
          value={draft.components[place] ?? ''}
          slotProps={{ htmlInput: { inputMode: 'decimal', autoComplete: 'off' } }}
          onChange={(event) =>
            change((d) => ({
              ...d,
              components: d.components.map((text, i) => (i === place ? event.target.value : text)),
            }))
          }
        />
      ))}
      {tags.map((name) => (
        <TextField
          key={name}
          size="small"
          label={capital(name)}
          value={draft.tags[name]}
          slotProps={{ htmlInput: { autoComplete: 'off', maxLength: 80 } }}
          onChange={(event) => change((d) => ({ ...d, tags: { ...d.tags, [name]: event.target.value } }))}
        />
      ))}
    </Stack>
  );
}
