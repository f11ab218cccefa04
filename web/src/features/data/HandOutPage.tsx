import {
  Autocomplete,
  Box,
  Checkbox,
  FormControlLabel,
  Link,
  Paper,
  Radio,
  RadioGroup,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { queries } from '../../api/queries';
import { DayPick } from '../../ui/DayPick';
import { Pick } from '../../ui/Pick';
import { Empty, Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { HAND_OUT } from '../../words/data';
import { FirstRows } from './FirstRows';
import { CELLS, comesAgain, FORMATS, type HandOut, handedAt, handedOf, handOutOf, isWhole, SHAPES } from './handOut';

/** Any selection of samples as a table, in the shape that one asks for. */
export default function HandOutPage() {
  const { params, put } = useAddress();
  const asked = handOutOf(params);
  return (
    <Box sx={{ maxWidth: 1280, mx: 'auto' }}>
      <Typography variant="h1">{HAND_OUT.title}</Typography>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: '400px minmax(0, 1fr)' } }}>
        <Stack spacing={2}>
          <WhichSamples asked={asked} put={put} />
          <WhichShape asked={asked} put={put} />
        </Stack>
        <Made asked={asked} />
      </Box>
    </Box>
  );
}

interface Part {
  asked: HandOut;
  put: ReturnType<typeof useAddress>['put'];
}

function WhichSamples({ asked, put }: Part) {
  const all = useQuery(queries.plan).data?.characteristics ?? [];
  const named = (id: string) => {
    const it = all.find((one) => one.id === id);
    return it ? `${it.name}, ${it.product}, ${it.station}` : id;
  };
  const text = (name: 'last' | 'tag' | 'value', label: string, placeholder = '') => (
    <TextField
      size="small"
      fullWidth={false}
      label={label}
      value={asked[name]}
      placeholder={placeholder}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: name === 'last' ? { inputMode: 'numeric' } : {} }}
      sx={{ width: 150 }}
      onChange={(event) => put({ [name]: event.target.value }, true)}
    />
  );
  return (
    <Paper component="section" aria-label={HAND_OUT.which} sx={{ p: 2 }}>
      <Stack spacing={2}>
        <Autocomplete
          multiple
          size="small"
          options={all.filter(({ hidden }) => !hidden).map(({ id }) => id)}
          getOptionLabel={named}
          value={[...asked.of]}
          onChange={(_, of) => put({ of: of.join(',') })}
          renderInput={(input) => <TextField {...input} label={HAND_OUT.of} />}
        />
        <Stack direction="row" sx={{ gap: 1.25, flexWrap: 'wrap' }}>
          <DayPick label={HAND_OUT.since} value={asked.since} onPick={(since) => put({ since })} />
          <DayPick label={HAND_OUT.before} value={asked.before} onPick={(before) => put({ before })} />
          {text('last', HAND_OUT.last, HAND_OUT.all)}
          {text('tag', HAND_OUT.tag)}
          {asked.tag !== '' && text('value', HAND_OUT.value)}
        </Stack>
        <FormControlLabel
          control={
            <Checkbox checked={asked.withoutAside} onChange={(_, on) => put({ without_aside: on ? 'true' : null })} />
          }
          label={HAND_OUT.withoutAside}
        />
      </Stack>
    </Paper>
  );
}

function WhichShape({ asked, put }: Part) {
  const beside = (name: 'limits' | 'signals' | 'answers') => (
    <FormControlLabel
      control={<Checkbox checked={asked[name]} onChange={(_, on) => put({ [name]: on ? 'true' : null })} />}
      label={HAND_OUT[name]}
    />
  );
  const tag = (name: 'rows' | 'columns') => (
    <TextField
      size="small"
      fullWidth={false}
      label={HAND_OUT[name]}
      value={asked[name]}
      sx={{ width: 150 }}
      onChange={(event) => put({ [name]: event.target.value }, true)}
    />
  );
  return (
    <Paper component="section" aria-labelledby="how" sx={{ p: 2 }}>
      <Typography id="how" variant="h2" sx={{ mb: 1 }}>
        {HAND_OUT.how}
      </Typography>
      <RadioGroup aria-labelledby="how" value={asked.shape} onChange={(_, shape) => put({ shape })}>
        {SHAPES.map((shape) => (
          <FormControlLabel key={shape} value={shape} control={<Radio />} label={HAND_OUT.shape[shape]} />
        ))}
      </RadioGroup>
      {asked.shape === 'crossed' ? (
        <Stack direction="row" sx={{ gap: 1.25, flexWrap: 'wrap', mt: 1.5 }}>
          {tag('rows')}
          {tag('columns')}
          <Pick
            label={HAND_OUT.cell}
            value={asked.cell}
            options={CELLS.map((cell) => [cell, HAND_OUT.cells[cell]] as const)}
            onPick={(cell) => put({ cell })}
          />
        </Stack>
      ) : (
        asked.shape !== 'down' && (
          <Stack role="group" aria-label={HAND_OUT.beside} sx={{ mt: 1.5 }}>
            <Typography color="text.secondary">{HAND_OUT.beside}</Typography>
            {beside('limits')}
            {beside('signals')}
            {beside('answers')}
          </Stack>
        )
      )}
    </Paper>
  );
}

/** Rows that are read to show the first of them. */
const LOOKED_AT = '200';

function Made({ asked }: { asked: HandOut }) {
  const whole = isWhole(asked);
  // A matrix is made of all its samples; of a list the latest are enough to see it.
  const few = asked.shape === 'crossed' || (asked.last !== '' && Number(asked.last) < Number(LOOKED_AT));
  const seen = handedOf({ ...asked, last: few ? asked.last : LOOKED_AT }, 'json');
  const rows = useQuery({ ...queries.handedOut(seen), enabled: whole });
  if (!whole) return <Empty>{asked.of.length === 0 ? HAND_OUT.choose : HAND_OUT.chooseTags}</Empty>;
  return (
    <Stack spacing={2} sx={{ minWidth: 0 }}>
      <Loaded query={rows} what={HAND_OUT.what}>
        {(all) => (all.length === 0 ? <Empty>{HAND_OUT.nothing}</Empty> : <FirstRows rows={all} />)}
      </Loaded>
      <Paper component="section" aria-label={HAND_OUT.files} sx={{ p: 2 }}>
        <Stack
          direction="row"
          sx={{ gap: 2, flexWrap: 'wrap', alignItems: 'center', '& a': { minHeight: 48, lineHeight: '48px' } }}
        >
          {FORMATS.map((format) => (
            <Link key={format} href={handedAt(asked, format)} download>
              {HAND_OUT.format[format]}
            </Link>
          ))}
          {comesAgain(asked.shape) && (
            <Link href={handedAt(asked, 'csv', '/recipes')} download="recipes.json">
              {HAND_OUT.recipe}
            </Link>
          )}
        </Stack>
        <Typography color="text.secondary">
          {comesAgain(asked.shape) ? HAND_OUT.comesAgain : HAND_OUT.staysOut}
        </Typography>
      </Paper>
    </Stack>
  );
}
