import { Box, Button, Checkbox, FormControlLabel, Link, Stack, Typography } from '@mui/material';
import { useMutation, useQueries, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { answered, api, type ToBringIn } from '../../api/client';
import { queries } from '../../api/queries';
import { ofColumn, type Recipe, tagsOf } from '../../api/recipe';
import { touch } from '../../api/touches';
import { CharacteristicPick } from '../../ui/CharacteristicPick';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { DATA, INTO, rowsRefused } from '../../words/data';
import { Progress } from './Progress';

/** Kinds that a single reading can be brought into. */
const KINDS = ['measured', 'rare_event'] as const;

/** Refused rows that are named of a column. */
const NAMED = 3;

interface Props {
  columns: readonly string[];
  recipe: Recipe;
  /** As it would be asked for one characteristic. */
  asked: ToBringIn;
  /** Tags that a characteristic asks for. */
  askedOf: (characteristic: string) => readonly string[];
}

/** Several characteristics at once: each column of the table goes into one of its own. */
export function EachColumn({ columns, recipe, asked, askedOf }: Props) {
  const client = useQueryClient();
  const [into, setInto] = useState<Readonly<Record<string, string>>>({});
  const [onlyRight, setOnlyRight] = useState(false);
  const parts = columns
    .map((column) => ({ column, characteristic: into[column] ?? '' }))
    .filter(({ characteristic }) => characteristic !== '')
    .map(({ column, characteristic }) => {
      const one = ofColumn(recipe, column) as unknown as Record<string, never>;
      const without = tagsOf(recipe).filter((tag) => !askedOf(characteristic).includes(tag));
      // The kept recipe reads the whole table.
      const body: ToBringIn = { ...asked, recipe: one, recipe_id: null, characteristic, without_tags: without };
      return { column, body };
    });
  const checks = useQueries({ queries: parts.map(({ body }) => queries.importCheck(body)) });
  const seen = useQueries({
    queries: parts.map(({ body }) => queries.shaped(body.file, body.recipe)),
  });
  const cells = seen.map(({ data }) => data?.refused ?? 0);
  const wrong = checks.some(({ data }, i) => (data?.refused ?? 0) + (cells[i] ?? 0) > 0);
  const another = checks.some(({ data }) => data?.looks_like_another ?? false);
  const known = [...checks, ...seen].every(({ data }) => data !== undefined);
  const fresh = checks.reduce((sum, { data }) => sum + (data?.new ?? 0), 0);
  const bringIn = useMutation({
    mutationFn: async () => {
      const made: { column: string; characteristic: string; id: string }[] = [];
      for (const { column, body } of parts) {
        const { id } = await answered(api.POST('/api/data/imports', { body: { ...body, only_right: onlyRight } }));
        await touch(client, { kind: 'limits', characteristic: body.characteristic });
        made.push({ column, characteristic: body.characteristic, id });
      }
      return made;
    },
    // What went in before one was refused is known now, and is not brought in again.
    onError: () => client.invalidateQueries({ queryKey: ['import-check'] }),
  });
  if (bringIn.data !== undefined) {
    return (
      <Stack sx={{ gap: 1, mt: 2 }}>
        {bringIn.data.map(({ column, characteristic, id }) => (
          <Notice key={column} kind="settled">
            {INTO.column(column)}: <Progress id={id} />{' '}
            <Link component={RouterLink} to={`/charts/${characteristic}`}>
              {DATA.toChart}
            </Link>
          </Notice>
        ))}
      </Stack>
    );
  }
  return (
    <Stack sx={{ gap: 1.25, mt: 1.5, alignItems: 'flex-start' }}>
      {columns.map((column) => {
        const at = parts.findIndex((part) => part.column === column);
        const found = checks[at]?.data;
        return (
          <Box key={column}>
            <CharacteristicPick
              label={INTO.column(column)}
              value={into[column] ?? ''}
              kinds={KINDS}
              none={INTO.notIn}
              onPick={(id) => setInto({ ...into, [column]: id })}
            />
            <Failed why={checks[at]?.error ?? seen[at]?.error} />
            {found && (
              <Box role="status" sx={{ mt: 0.5 }}>
                {found.new === 0 && found.refused === 0 ? INTO.nothing : INTO.fits(found)}{' '}
                {(cells[at] ?? 0) > 0 && INTO.cellsRefused(cells[at] ?? 0)}{' '}
                {rowsRefused(found.first_refused).slice(0, NAMED).join(' ')} {found.looks_like_another && INTO.another}
              </Box>
            )}
          </Box>
        );
      })}
      {parts.length > 0 && tagsOf(recipe).length > 0 && (
        <Typography color="text.secondary">{INTO.tagsAlone}</Typography>
      )}
      {wrong && (
        <FormControlLabel
          control={<Checkbox checked={onlyRight} onChange={(_, checked) => setOnlyRight(checked)} />}
          label={INTO.onlyRight}
        />
      )}
      {parts.length > 0 && known && fresh > 0 && (
        <Button
          variant="contained"
          disabled={bringIn.isPending || another || (wrong && !onlyRight)}
          onClick={() => bringIn.mutate()}
        >
          {INTO.inParts(fresh, parts.length)}
        </Button>
      )}
      <Failed why={bringIn.error} />
    </Stack>
  );
}
