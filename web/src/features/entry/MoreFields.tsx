import { Stack, TextField } from '@mui/material';
import { capital } from '../../words/numbers';
import type { EntryState } from './useEntry';

/** Tags that are asked with the sample, remembered from the one before, and reference components. */
export function MoreFields({ entry, components }: { entry: EntryState; components: readonly string[] }) {
  const { draft, change } = entry;
  const tags = Object.keys(draft.tags);
  if (tags.length + components.length === 0) return null;
  return (
    <Stack direction="row" spacing={1}>
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
