import { Box, MenuItem, Paper, TextField, Typography } from '@mui/material';
import type { HTMLInputTypeAttribute, ReactNode } from 'react';
import type { Fields } from './form';

/** What every part of the form works on. */
export interface FormPart {
  f: Fields;
  set: (change: Partial<Fields>) => void;
  /** Why a field is refused, by the names of the set-up. */
  wrong: Readonly<Record<string, string>>;
}

type TextField_ = { [K in keyof Fields]: Fields[K] extends string ? K : never }[keyof Fields];

/** A part of the form under a heading, with room for a sentence about it. */
export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Paper component="section" aria-label={title} sx={{ p: 2.5 }}>
      <Typography variant="h2" sx={{ mb: 2 }}>{title}</Typography>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: 'repeat(12, minmax(0, 1fr))' }}>{children}</Box>
    </Paper>
  );
}

/** A field of text or of a number. `field`: its name in the set-up, for refusals. */
export function Text({ part, name, label, field, wide = 4, lines, help, type }: {
  part: FormPart;
  name: TextField_;
  label: string;
  field?: string;
  wide?: number;
  lines?: number;
  help?: string;
  type?: HTMLInputTypeAttribute;
}) {
  const why = field === undefined ? undefined : part.wrong[field];
  return (
    <TextField
      label={label}
      value={part.f[name]}
      onChange={(event) => part.set({ [name]: event.target.value })}
      error={why !== undefined}
      helperText={why ?? help}
      sx={{ gridColumn: { xs: 'span 12', md: `span ${wide}` } }}
      {...(lines !== undefined && { multiline: true, minRows: lines })}
      slotProps={{ htmlInput: { inputMode: type === 'number' ? 'decimal' : 'text', autoComplete: 'off' } }}
    />
  );
}

/** A choice of one among a few. */
export function Choice<V extends string>({ label, value, options, onChange, wide = 4, why }: {
  label: string;
  value: V;
  options: readonly (readonly [value: V, words: string])[];
  onChange: (value: V) => void;
  wide?: number;
  why?: string | undefined;
}) {
  return (
    <TextField
      select
      label={label}
      value={value}
      onChange={(event) => onChange(event.target.value as V)}
      error={why !== undefined}
      helperText={why}
      sx={{ gridColumn: { xs: 'span 12', md: `span ${wide}` } }}
    >
      {options.map(([one, words]) => <MenuItem key={one} value={one} sx={{ whiteSpace: 'normal' }}>{words}</MenuItem>)}
    </TextField>
  );
}
