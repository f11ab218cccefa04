import { Box, Button, Stack, TextField, Typography } from '@mui/material';
import { useController, useFieldArray, useWatch } from 'react-hook-form';
import { TextInput } from '../../ui/fields';
import { Notice } from '../../ui/Notice';
import { SET_UP } from '../../words/setUpForm';
import { newKind, type SetUpForm } from './form';
import { Part, Text, Words } from './parts';

/** Unit, bounds and specification of a measured value; the kinds that are counted. */
export function ValuesPart({
  form,
  lettersTaken,
  components,
}: {
  form: SetUpForm;
  lettersTaken: readonly string[];
  /** Those that other characteristics have. */
  components: readonly string[];
}) {
  const kind = useWatch({ control: form.control, name: 'kind' });
  const chart = useWatch({ control: form.control, name: 'chart' });
  if (kind === 'rare_event')
    return chart === 't' ? null : (
      <Part title={SET_UP.whatCounted}>
        <Text form={form} name="unit" label={SET_UP.whatBetween} help={SET_UP.suchAsCartridges} wide={6} />
      </Part>
    );
  if (kind !== 'measured') return <Kinds form={form} lettersTaken={lettersTaken} />;
  return (
    <Part title={SET_UP.values}>
      <Text form={form} name="unit" label={SET_UP.unit} />
      <Text form={form} name="decimals" number label={SET_UP.decimals} help={SET_UP.moreDigits} wide={8} />
      <Text form={form} name="hardLower" number label={SET_UP.measuredFrom} wide={3} />
      <Text form={form} name="hardUpper" number label={SET_UP.to} help={SET_UP.refusedOutside} wide={3} />
      <Text form={form} name="softLower" number label={SET_UP.usualFrom} wide={3} />
      <Text form={form} name="softUpper" number label={SET_UP.to} help={SET_UP.askedOutside} wide={3} />
      <Text form={form} name="lsl" number label={SET_UP.lsl} />
      <Text form={form} name="target" number label={SET_UP.target} />
      <Text form={form} name="usl" number label={SET_UP.usl} help={SET_UP.neverOnChart} />
      <Text form={form} name="able" number label={SET_UP.able} help={SET_UP.ableHelp} wide={3} />
      <Text form={form} name="barely" number label={SET_UP.barely} wide={3} />
      <Text form={form} name="feature" label={SET_UP.feature} help={SET_UP.suchAsABore} />
      <Words
        form={form}
        name="components"
        label={SET_UP.components}
        help={SET_UP.recordedBeside}
        wide={8}
        known={components}
      />
      <Parts form={form} />
    </Part>
  );
}

function Kinds({ form, lettersTaken }: { form: SetUpForm; lettersTaken: readonly string[] }) {
  const { control, getValues, setValue } = form;
  // The kinds have identities of their own.
  const { fields, append, remove } = useFieldArray({ control, name: 'kinds', keyName: 'key' });
  const {
    field: { ref, ...begun },
    fieldState: { error },
  } = useController({ control, name: 'kindBegun' });
  const add = () => {
    const name = begun.value.trim();
    if (name === '') return;
    append(newKind(getValues('kinds'), name, lettersTaken), { shouldFocus: false });
    setValue('kindBegun', '');
  };
  return (
    <Part title={SET_UP.whatCounted}>
      <Text form={form} name="unit" label={SET_UP.whatInspected} help={SET_UP.suchAsCartridges} wide={6} />
      <Stack spacing={1} sx={{ gridColumn: '1 / -1' }}>
        <Typography color="text.secondary">{SET_UP.kindsAreTapped}</Typography>
        {fields.map((kind, place) => (
          <Box key={kind.key} sx={{ display: 'flex', gap: 1 }}>
            <TextInput
              control={control}
              name={`kinds.${place}.name`}
              label={SET_UP.kind}
              size="small"
              sx={{ maxWidth: 320 }}
            />
            <TextInput
              control={control}
              name={`kinds.${place}.letter`}
              label={SET_UP.letter}
              size="small"
              sx={{ width: 90 }}
              tidy={(typed) => typed.slice(-1).toUpperCase()}
            />
            <Button color="inherit" aria-label={SET_UP.removeKind(kind.name)} onClick={() => remove(place)}>
              {SET_UP.remove}
            </Button>
          </Box>
        ))}
        <Box sx={{ display: 'flex', gap: 1 }}>
          <TextField
            {...begun}
            inputRef={ref}
            size="small"
            label={SET_UP.anotherKind}
            onKeyDown={(event) => {
              if (event.key !== 'Enter') return;
              event.preventDefault();
              add();
            }}
            sx={{ maxWidth: 320 }}
          />
          <Button color="inherit" variant="outlined" onClick={add} disabled={begun.value.trim() === ''}>
            {SET_UP.addKind}
          </Button>
        </Box>
        {error?.message !== undefined && <Notice kind="problem">{error.message}</Notice>}
      </Stack>
    </Part>
  );
}

/** Parts of short runs, which share the chart. */
function Parts({ form: { control } }: { form: SetUpForm }) {
  const { fields, append, remove } = useFieldArray({ control, name: 'parts' });
  return (
    <Stack spacing={1} sx={{ gridColumn: '1 / -1' }}>
      <Typography sx={{ fontWeight: 600 }}>{SET_UP.parts}</Typography>
      <Typography color="text.secondary">{SET_UP.partsHelp}</Typography>
      {fields.map((part, place) => (
        <Box key={part.id} sx={{ display: 'flex', gap: 1, flexWrap: { xs: 'wrap', sm: 'nowrap' } }}>
          <TextInput
            control={control}
            name={`parts.${place}.name`}
            label={SET_UP.part}
            size="small"
            sx={{ flex: { xs: '1 1 100%', sm: '0 1 240px' } }}
          />
          <TextInput
            control={control}
            name={`parts.${place}.nominal`}
            label={SET_UP.nominal}
            keys="decimal"
            size="small"
            sx={{ flex: '0 1 140px' }}
          />
          <TextInput
            control={control}
            name={`parts.${place}.sigma`}
            label={SET_UP.partSigma}
            keys="decimal"
            size="small"
            sx={{ flex: '0 1 180px' }}
          />
          <Button color="inherit" aria-label={SET_UP.removePart(part.name)} onClick={() => remove(place)}>
            {SET_UP.remove}
          </Button>
        </Box>
      ))}
      <Button
        color="inherit"
        variant="outlined"
        sx={{ alignSelf: 'start' }}
        onClick={() => append({ name: '', nominal: '', sigma: '' })}
      >
        {SET_UP.addPart}
      </Button>
    </Stack>
  );
}
