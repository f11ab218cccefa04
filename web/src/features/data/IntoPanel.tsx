import {
  Autocomplete,
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  Link,
  Paper,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink, useSearchParams } from 'react-router';
import { answered, api, type ImportFileView, type Plan, type ShapePreview, type ToBringIn } from '../../api/client';
import { queries } from '../../api/queries';
import { columnsApart, type Recipe, tagsOf, valuesApart, withTagNamed, withTagsAsked } from '../../api/recipe';
import { touch } from '../../api/touches';
import { CharacteristicPick } from '../../ui/CharacteristicPick';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { Pick } from '../../ui/Pick';
import { Loaded } from '../../ui/States';
import { DATA, INTO, rowsRefused } from '../../words/data';
import { ChangedRows } from './ChangedRows';
import { EachPart } from './EachPart';
import { NewCharacteristic } from './NewCharacteristic';
import { Progress } from './Progress';

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
        <Checked
          key={JSON.stringify({ ...asked, recipe_id: null })}
          asked={asked}
          cells={seen.refused}
          setup={plan?.characteristics.find((one) => one.id === into)}
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

/** What would come of it, and the deed itself. */
function Checked({
  asked,
  cells,
  setup,
}: {
  asked: ToBringIn;
  cells: number;
  setup: Plan['characteristics'][number] | undefined;
}) {
  const client = useQueryClient();
  const check = useQuery(queries.importCheck(asked));
  const [onlyRight, setOnlyRight] = useState(false);
  const [sameList, setSameList] = useState(false);
  const bringIn = useMutation({
    mutationFn: async () => {
      const body = { ...asked, only_right: onlyRight, same_list: sameList };
      const { id } = await answered(api.POST('/api/data/imports', { body }));
      await touch(client, { kind: 'limits', characteristic: asked.characteristic });
      return id;
    },
  });
  const chart = (
    <Link component={RouterLink} to={`/charts/${asked.characteristic}`}>
      {DATA.toChart}
    </Link>
  );
  if (bringIn.data !== undefined) {
    return (
      <Box sx={{ mt: 2 }}>
        <Notice kind="settled">
          <Progress id={bringIn.data} /> {chart}
        </Notice>
      </Box>
    );
  }
  return (
    <Box sx={{ mt: 1.5 }}>
      <Loaded query={check} what={INTO.checking}>
        {(found) => {
          const wrong = found.refused + cells;
          return (
            <Stack sx={{ gap: 1, alignItems: 'flex-start' }}>
              <div role="status">
                {found.new === 0 && wrong === 0 ? INTO.nothing : INTO.fits(found)}{' '}
                {found.from != null && found.to != null && INTO.span(found.from, found.to)}{' '}
                {found.judged_again > 0 && INTO.judgedAgain(found.judged_again)}
              </div>
              {found.changed > 0 && setup !== undefined && <ChangedRows asked={asked} found={found} setup={setup} />}
              {found.looks_like_another && (
                <>
                  <Notice kind="caution">{INTO.another}</Notice>
                  <FormControlLabel
                    control={<Checkbox checked={sameList} onChange={(_, checked) => setSameList(checked)} />}
                    label={INTO.sameList}
                  />
                </>
              )}
              {found.refused > 0 && (
                <Notice kind="problem">
                  {INTO.refused(found.refused)}
                  <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
                    {rowsRefused(found.first_refused)
                      .slice(0, 10)
                      .map((why) => (
                        <li key={why}>{why}</li>
                      ))}
                  </Box>
                </Notice>
              )}
              {wrong > 0 && (
                <FormControlLabel
                  control={<Checkbox checked={onlyRight} onChange={(_, checked) => setOnlyRight(checked)} />}
                  label={INTO.onlyRight}
                />
              )}
              {found.new > 0 && (
                <Button
                  variant="contained"
                  disabled={bringIn.isPending || (wrong > 0 && !onlyRight) || (found.looks_like_another && !sameList)}
                  onClick={() => bringIn.mutate()}
                >
                  {INTO.bringIn(found.new)}
                </Button>
              )}
              <Failed why={bringIn.error} />
            </Stack>
          );
        }}
      </Loaded>
    </Box>
  );
}
