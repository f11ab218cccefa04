import { Box, Paper, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import type { FieldPath } from 'react-hook-form';
import { Chips, type Options, Select, TextInput } from '../../ui/fields';
import type { Fields, SetUpForm } from './form';

/** A part of the form under a heading. */
export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Paper component="section" aria-label={title} sx={{ p: 2.5 }}>
      <Typography variant="h2" sx={{ mb: 2 }}>
        {title}
      </Typography>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: 'repeat(12, minmax(0, 1fr))' }}>{children}</Box>
    </Paper>
  );
}

/** So many of the twelve columns; all of them on a small screen. */
export const span = (wide: number) => ({ gridColumn: { xs: 'span 12', md: `span ${wide}` } });

interface Placed {
  form: SetUpForm;
  name: FieldPath<Fields>;
  label: string;
  wide?: number;
  help?: string | undefined;
}

/** A field of text or of a number. */
export function Text({
  form,
  wide = 4,
  lines,
  number = false,
  ...rest
}: Placed & { lines?: number; number?: boolean }) {
  return (
    <TextInput
      {...rest}
      control={form.control}
      keys={number ? 'decimal' : 'text'}
      sx={span(wide)}
      {...(lines !== undefined && { multiline: true, minRows: lines })}
    />
  );
}

/** A list of words. */
export function Words({ form, wide = 4, ...rest }: Placed & { known: readonly string[] }) {
  return <Chips {...rest} control={form.control} sx={span(wide)} />;
}

/** A choice of one among a few. */
export function Choice({ form, wide = 4, ...rest }: Placed & { options: Options<string>; onPick?: () => void }) {
  return <Select {...rest} control={form.control} sx={span(wide)} />;
}
