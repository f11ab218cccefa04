import { MenuItem, TextField } from '@mui/material';
import type { Options } from './fields';

/** One of a few, outside of any form: it holds at once. */
export function Pick({
  label,
  value,
  options,
  onPick,
}: {
  label: string;
  value: string;
  options: Options<string>;
  onPick: (value: string) => void;
}) {
  return (
    <TextField
      select
      size="small"
      fullWidth={false}
      label={label}
      value={options.some(([known]) => known === value) ? value : ''}
      onChange={(event) => onPick(event.target.value)}
      sx={{ minWidth: 150, maxWidth: '100%' }}
      slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
    >
      {options.map(([option, words]) => (
        <MenuItem key={option} value={option}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}
