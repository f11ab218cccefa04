import { TextField } from '@mui/material';
import { useState } from 'react';

/** A figure or a word that holds when the field is left, so that no half of it is asked. */
export function Typed({
  label,
  value,
  onTyped,
  placeholder,
  words = false,
}: {
  label: string;
  value: string;
  onTyped: (value: string | null) => void;
  placeholder?: string;
  /** A name, not a number. */
  words?: boolean;
}) {
  const [seen, setSeen] = useState(value);
  const [typed, setTyped] = useState(value);
  // Back and forth in the browser change what holds.
  if (seen !== value) {
    setSeen(value);
    setTyped(value);
  }
  const done = () => onTyped(typed.trim() === '' ? null : typed.trim());
  const width = words ? 190 : 118;
  return (
    <TextField
      size="small"
      fullWidth={false}
      label={label}
      value={typed}
      placeholder={placeholder}
      sx={{ width, minWidth: 0, flex: `0 1 ${width}px` }}
      slotProps={{
        htmlInput: { inputMode: words ? 'text' : 'decimal', maxLength: 80 },
        inputLabel: { shrink: true },
      }}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={done}
      onKeyDown={(event) => {
        if (event.key === 'Enter') done();
      }}
    />
  );
}
