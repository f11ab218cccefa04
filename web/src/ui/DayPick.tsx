import { TextField } from '@mui/material';

/** A day, outside of any form: it holds at once. */
export function DayPick({ label, value, onPick }: { label: string; value: string; onPick: (day: string) => void }) {
  return (
    <TextField
      type="date"
      size="small"
      fullWidth={false}
      label={label}
      value={value}
      slotProps={{ inputLabel: { shrink: true } }}
      sx={{ width: 170 }}
      onChange={(event) => onPick(event.target.value)}
    />
  );
}
