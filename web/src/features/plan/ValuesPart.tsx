import { Box, Button, Stack, TextField, Typography } from '@mui/material';
import { Notice } from '../../ui/Notice';
import { newKind } from './form';
import { type FormPart, Part, Text } from './parts';

/** Unit, bounds and specification of a measured value; the kinds that are counted. */
export function ValuesPart({ part }: { part: FormPart }) {
  if (part.f.kind !== 'measured') return <Kinds part={part} />;
  return (
    <Part title="The values">
      <Text part={part} name="unit" field="unit" label="Unit" />
      <Text part={part} name="decimals" field="decimals" type="number" label="Decimals" help="More digits than these are refused, not rounded." wide={8} />
      <Text part={part} name="hardLower" field="hard_bounds" type="number" label="Can be measured from" wide={3} />
      <Text part={part} name="hardUpper" field="hard_bounds" type="number" label="to" help="Values outside are refused." wide={3} />
      <Text part={part} name="softLower" field="soft_bounds" type="number" label="Usual from" wide={3} />
      <Text part={part} name="softUpper" field="soft_bounds" type="number" label="to" help="Values outside are asked about." wide={3} />
      <Text part={part} name="lsl" field="specification" type="number" label="Lower specification limit" />
      <Text part={part} name="target" field="specification" type="number" label="Target" />
      <Text part={part} name="usl" field="specification" type="number" label="Upper specification limit" help="They belong to capability and never stand on the chart." />
      <Text part={part} name="feature" field="feature" label="Feature it belongs to" help="Such as a bore whose position is judged." />
      <Text part={part} name="components" field="components" label="Reference components, with commas" help="Recorded beside the value, drawn lightly, judged by no rule." wide={8} />
    </Part>
  );
}

function Kinds({ part }: { part: FormPart }) {
  const { f, set, wrong } = part;
  const name = f.kindBegun;
  const add = () => {
    if (name.trim() === '') return;
    set({ kinds: [...f.kinds, newKind(f.kinds, name.trim())], kindBegun: '' });
  };
  const change = (place: number, kind: Partial<(typeof f.kinds)[number]>) =>
    set({ kinds: f.kinds.map((one, i) => (i === place ? { ...one, ...kind } : one)) });
  return (
    <Part title="What is counted">
      <Text part={part} name="unit" field="unit" label="What is inspected" help="Such as cartridges." wide={6} />
      <Stack spacing={1} sx={{ gridColumn: '1 / -1' }}>
        <Typography color="text.secondary">Kinds can be tapped, or counted by their letter. Anything else is counted as “other”, with a word.</Typography>
        {f.kinds.map((kind, place) => (
          <Box key={kind.id} sx={{ display: 'flex', gap: 1 }}>
            <TextField size="small" label="Kind" value={kind.name} onChange={(e) => change(place, { name: e.target.value })} sx={{ maxWidth: 320 }} />
            <TextField size="small" label="Letter" value={kind.letter} sx={{ width: 90 }} onChange={(e) => change(place, { letter: e.target.value.slice(-1).toUpperCase() })} />
            <Button color="inherit" aria-label={`Remove ${kind.name}`} onClick={() => set({ kinds: f.kinds.filter((_, i) => i !== place) })}>Remove</Button>
          </Box>
        ))}
        <Box sx={{ display: 'flex', gap: 1 }}>
          <TextField
            size="small"
            label="Another kind"
            value={name}
            onChange={(event) => set({ kindBegun: event.target.value })}
            onKeyDown={(event) => {
              if (event.key !== 'Enter') return;
              event.preventDefault();
              add();
            }}
            sx={{ maxWidth: 320 }}
          />
          <Button color="inherit" variant="outlined" onClick={add} disabled={name.trim() === ''}>Add the kind</Button>
        </Box>
        {wrong.defect_kinds !== undefined && <Notice kind="problem">{wrong.defect_kinds}</Notice>}
      </Stack>
    </Part>
  );
}
