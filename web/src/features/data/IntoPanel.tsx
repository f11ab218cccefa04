import { Autocomplete, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { ImportFileView, ShapePreview, ToBringIn } from '../../api/client';
import { queries } from '../../api/queries';
import { columnsApart, type Recipe, tagsOf, valuesApart, withTagNamed, withTagsAsked } from '../../api/recipe';
import { CharacteristicPick } from '../../ui/CharacteristicPick';
import { Pick } from '../../ui/Pick';
import { INTO } from '../../words/data';
import { EachPart } from './EachPart';
import { ImportChecked } from './ImportChecked';
import { NewCharacteristic } from './NewCharacteristic';

interface Props {
  file: ImportFileView;
  recipe: Recipe;
  recipeId: string | null;
  seen: ShapePreview;
  /** Columns that a row is known by again. */
  keyColumns: readonly string[];
  onKeyColumns: (columns: readonly string[]) => void;
  onChange: (recipe: Recipe) => void;
}

/** Kinds that a table can be brought into. */
const KINDS = ['measured', 'nonconforming_units', 'nonconformities', 'rare_event'] as const;

/** Kinds that a single reading can be brought into. */
const OF_ONE_READING = ['measured', 'rare_event'] as const;

/** How a table can go into several characteristics at once. */
function waysApart(recipe: Recipe, seen: ShapePreview) {
  const columns = columnsApart(recipe, seen.columns);
  const byTag = seen.suits.tags.map(({ name, values }) => ({
    key: `tag:${name}`,
    title: INTO.eachValue(name),
    parts: valuesApart(recipe, name, values, seen.columns),
    say: (value: string) => `${name} ${value}`,
    kinds: KINDS,
  }));
  const byColumn = {
    key: 'columns',
    title: INTO.eachColumn,
    parts: columns,
    say: INTO.column,
    kinds: OF_ONE_READING,
  };
  return [byColumn, ...byTag].filter(({ parts }) => parts.length > 0);
}

/** Into what, and what would come of it. */
export function IntoPanel({ file, recipe, recipeId, seen, keyColumns, onKeyColumns, onChange }: Props) {
  // One that was just set up from the table.
  const [params] = useSearchParams();
  const [into, setInto] = useState(params.get('into') ?? '');
  const plan = useQuery(queries.plan).data;
  const askedOf = (id: string) => plan?.characteristics.find((one) => one.id === id)?.asked_tags ?? [];
  const pick = (id: string) => {
    setInto(id);
    onChange(withTagsAsked(recipe, askedOf(id)));
  };
  const ways = waysApart(recipe, seen);
  const [way, setWay] = useState('');
  const apart = ways.find(({ key }) => key === way);
  const [leftOut, setLeftOut] = useState<readonly string[]>([]);
  const [source, setSource] = useState(file.name);
  const [first, setFirst] = useState('');
  const [minutes, setMinutes] = useState('60');
  const needsTimes = !seen.has_times;
  const stated =
    first !== '' && Number(minutes) > 0 ? { first: withSeconds(first), every_seconds: seconds(minutes) } : null;
  const asked: ToBringIn = {
    file: file.id,
    recipe: recipe as unknown as Record<string, never>,
    key: [...keyColumns],
    recipe_id: recipeId,
    characteristic: into,
    source: source.trim() === '' ? null : source,
    stated: needsTimes ? stated : null,
    without_tags: [...leftOut],
  };
  const keyField = useRef<HTMLDivElement>(null);
  // What was pressed is gone then, and so would be the focus.
  const knowBy = (columns: readonly string[]) => {
    onKeyColumns(columns);
    keyField.current?.querySelector('input')?.focus();
  };
  const ready = into !== '' && (!needsTimes || stated !== null);
  return (
    <Paper component="section" aria-labelledby="into" sx={{ p: 2, mb: 2 }}>
      <Typography id="into" variant="h2" sx={{ mb: 1.5 }}>
        {INTO.title}
      </Typography>
      <Stack direction="row" sx={{ gap: 1.25, flexWrap: 'wrap', alignItems: 'flex-start' }}>
        {ways.length > 0 && (
          <Pick
            label={INTO.how}
            value={way}
            options={[['', INTO.allInOne], ...ways.map(({ key, title }) => [key, title] as const)]}
            onPick={setWay}
          />
        )}
        {apart === undefined && (
          <CharacteristicPick label={INTO.characteristic} value={into} kinds={KINDS} onPick={pick} />
        )}
        <TextField
          size="small"
          fullWidth={false}
          label={INTO.source}
          value={source}
          onChange={(event) => setSource(event.target.value)}
          helperText={INTO.sourceHelp}
          slotProps={{ htmlInput: { maxLength: 200 } }}
          sx={{ minWidth: 260 }}
        />
        <Autocomplete
          ref={keyField}
          multiple
          size="small"
          options={seen.columns}
          value={[...keyColumns]}
          onChange={(_, columns) => onKeyColumns(columns)}
          renderInput={(params) => (
            <TextField
              {...params}
              label={INTO.knownBy}
              placeholder={keyColumns.length === 0 ? INTO.byNumber : ''}
              helperText={INTO.knownByHelp}
              slotProps={{ ...params.slotProps, inputLabel: { ...params.slotProps.inputLabel, shrink: true } }}
            />
          )}
          sx={{ minWidth: 260, flex: '0 1 380px' }}
        />
      </Stack>
      {apart === undefined && <NewCharacteristic file={file} seen={seen} />}
      {into !== '' && apart === undefined && (
        <Tags recipe={recipe} asked={askedOf(into)} leftOut={leftOut} onLeftOut={setLeftOut} onChange={onChange} />
      )}
      {needsTimes && (
        <>
          <Typography sx={{ my: 1 }}>{INTO.noTimes}</Typography>
          <Stack direction="row" sx={{ gap: 1.25, flexWrap: 'wrap' }}>
            <TextField
              type="datetime-local"
              size="small"
              fullWidth={false}
              label={INTO.first}
              value={first}
              onChange={(event) => setFirst(event.target.value)}
              slotProps={{ inputLabel: { shrink: true } }}
            />
            <TextField
              type="number"
              size="small"
              fullWidth={false}
              label={INTO.every}
              value={minutes}
              onChange={(event) => setMinutes(event.target.value)}
              slotProps={{ htmlInput: { min: 0, step: 'any' } }}
            />
          </Stack>
        </>
      )}
      {apart !== undefined && (needsTimes ? stated !== null : true) && (
        <EachPart {...apart} asked={asked} askedOf={askedOf} />
      )}
      {ready && apart === undefined && (
        <ImportChecked
          key={JSON.stringify({ ...asked, recipe_id: null })}
          asked={asked}
          cells={seen.refused}
          setup={plan?.characteristics.find((one) => one.id === into)}
          onKeyColumns={knowBy}
        />
      )}
    </Paper>
  );
}

/** Tags of the table that are not asked for here: each is one that is, or is left out. */
function Tags({
  recipe,
  asked,
  leftOut,
  onLeftOut,
  onChange,
}: {
  recipe: Recipe;
  asked: readonly string[];
  leftOut: readonly string[];
  onLeftOut: (tags: readonly string[]) => void;
  onChange: (recipe: Recipe) => void;
}) {
  const all = tagsOf(recipe);
  const strange = all.filter((tag) => !asked.includes(tag));
  if (strange.length === 0) return null;
  const free = asked.filter((name) => !all.includes(name));
  return (
    <Stack direction="row" sx={{ gap: 1.25, flexWrap: 'wrap', mt: 1.5 }}>
      {strange.map((tag) => (
        <Pick
          key={tag}
          label={INTO.tagIs(tag)}
          value={leftOut.includes(tag) ? '' : tag}
          options={[[tag, INTO.notAsked], ...free.map((name) => [name, name] as const), ['', INTO.tagLeftOut]]}
          onPick={(name) => {
            const others = leftOut.filter((one) => one !== tag);
            onLeftOut(name === '' ? [...others, tag] : others);
            if (name !== '' && name !== tag) onChange(withTagNamed(recipe, tag, name));
          }}
        />
      ))}
    </Stack>
  );
}

const withSeconds = (local: string) => (local.length === 16 ? `${local}:00` : local);
const seconds = (minutes: string) => Math.max(1, Math.round(Number(minutes) * 60));
