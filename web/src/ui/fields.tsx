import { Autocomplete, Checkbox, FormControlLabel, MenuItem, TextField, type TextFieldProps } from '@mui/material';
import { type ReactNode, useState } from 'react';
import { type Control, type FieldPath, type FieldValues, useController } from 'react-hook-form';

/** Which field of which form. */
interface Of<F extends FieldValues, O> {
  control: Control<F, unknown, O>;
  name: FieldPath<F>;
}

type Look = Pick<
  TextFieldProps,
  'autoComplete' | 'autoFocus' | 'disabled' | 'minRows' | 'multiline' | 'size' | 'sx' | 'type'
>;

type InputProps<F extends FieldValues, O> = Of<F, O> &
  Look & {
    label: string;
    /** Shown under the field while nothing is wrong with it. */
    help?: string | undefined;
    /** Which keys a tablet offers. */
    keys?: 'decimal' | 'numeric' | 'text';
    longest?: number;
    /** What a screen reader says, where the label alone is not enough. */
    spoken?: string;
    /** Id of a list of what may be typed. */
    list?: string;
    /** Makes of a key press what stands in the field then. */
    tidy?: (typed: string) => string;
  };

/** A field of text, with what is wrong with it under it. */
export function TextInput<F extends FieldValues, O>({
  control,
  name,
  label,
  help,
  keys,
  longest,
  spoken,
  list,
  tidy,
  autoComplete = 'off',
  ...look
}: InputProps<F, O>) {
  const {
    field: { ref, onChange, ...field },
    fieldState: { error },
  } = useController({ control, name });
  return (
    <TextField
      {...look}
      {...field}
      label={label}
      onChange={(event) => onChange(tidy ? tidy(event.target.value) : event.target.value)}
      inputRef={ref}
      autoComplete={autoComplete}
      error={error !== undefined}
      helperText={error?.message ?? help}
      slotProps={{
        // A date shows its form before anything is typed.
        ...(look.type === 'date' && { inputLabel: { shrink: true } }),
        htmlInput: {
          ...(keys !== undefined && { inputMode: keys }),
          ...(longest !== undefined && { maxLength: longest }),
          ...(spoken !== undefined && { 'aria-label': spoken }),
          ...(list !== undefined && { list }),
        },
      }}
    />
  );
}

/** A list of words as chips; what is known is offered, and anything else can be typed. */
export function Chips<F extends FieldValues, O>({
  control,
  name,
  label,
  help,
  known,
  sx,
}: Of<F, O> & Pick<TextFieldProps, 'sx'> & { label: string; help?: string | undefined; known: readonly string[] }) {
  const {
    field: { ref, value, onChange, onBlur },
    fieldState: { error },
  } = useController({ control, name });
  const [typed, setTyped] = useState('');
  const all = value as readonly string[];
  const add = () => {
    const words = typed
      .split(',')
      .map((word) => word.trim())
      .filter((word) => word !== '' && !all.includes(word));
    if (words.length > 0) onChange([...all, ...words]);
    setTyped('');
  };
  return (
    <Autocomplete
      {...(sx !== undefined && { sx })}
      multiple
      freeSolo
      autoSelect={false}
      options={known.filter((word) => !all.includes(word))}
      value={[...all]}
      inputValue={typed}
      onInputChange={(_, next) => setTyped(next)}
      onChange={(_, next) => onChange(next.map((word) => word.trim()).filter((word) => word !== ''))}
      // What is typed and not yet a chip is one when the field is left: nothing is lost.
      onBlur={() => {
        add();
        onBlur();
      }}
      renderInput={(input) => (
        <TextField
          {...input}
          label={label}
          inputRef={ref}
          error={error !== undefined}
          helperText={error?.message ?? help}
          onKeyDown={(event) => {
            if (event.key !== ',') return;
            event.preventDefault();
            add();
          }}
        />
      )}
    />
  );
}

/** What can be picked: its value, and how it is called. */
export type Options<V extends string> = readonly (readonly [value: V, words: string])[];

/** One of a few; several, where the field holds a list. */
export function Select<F extends FieldValues, O>({
  control,
  name,
  label,
  help,
  options,
  onPick,
  several = false,
  ...look
}: Of<F, O> &
  Look & {
    label: string;
    help?: string | undefined;
    options: Options<string>;
    /** What else changes with it. */
    onPick?: () => void;
    several?: boolean;
  }) {
  const {
    field: { ref, onChange, ...field },
    fieldState: { error },
  } = useController({ control, name });
  return (
    <TextField
      {...look}
      {...field}
      select
      label={label}
      onChange={(event) => {
        onChange(event.target.value);
        onPick?.();
      }}
      inputRef={ref}
      error={error !== undefined}
      helperText={error?.message ?? help}
      slotProps={{ select: { multiple: several } }}
    >
      {options.map(([value, words]) => (
        <MenuItem key={value} value={value} sx={{ whiteSpace: 'normal' }}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Yes or no. */
export function Tick<F extends FieldValues, O>({
  control,
  name,
  label,
  sx,
}: Of<F, O> & Pick<TextFieldProps, 'sx'> & { label: ReactNode }) {
  const {
    field: { ref, value, ...field },
  } = useController({ control, name });
  return (
    <FormControlLabel
      {...(sx !== undefined && { sx })}
      label={label}
      control={<Checkbox {...field} checked={Boolean(value)} slotProps={{ input: { ref } }} />}
    />
  );
}
