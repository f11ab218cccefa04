import { Autocomplete, Box, Button, Stack, TextField } from '@mui/material';
import { useState } from 'react';
import type { ShapePreview } from '../../api/client';
import type { Recipe } from '../../api/recipe';
import { Pick } from '../../ui/Pick';
import { SHAPE } from '../../words/data';

interface Condition {
  column: string;
  is: readonly string[];
}

interface Props {
  recipe: Recipe;
  seen: ShapePreview;
  onChange: (recipe: Recipe) => void;
}

/** Texts of a column that are proposed. */
const PROPOSED = 30;

/** What stands in a column of the rows that are shown, each once. */
function texts({ columns, sheet }: ShapePreview, column: string): readonly string[] {
  const at = columns.indexOf(column);
  const all = new Set(sheet.map(({ cells }) => cells[at]?.trim() ?? ''));
  all.delete('');
  all.delete(column);
  return [...all].slice(0, PROPOSED);
}

/** Only some of the rows: those that hold one of some texts in a column. */
export function WhereFields({ recipe, seen, onChange }: Props) {
  const [conditions, setConditions] = useState<readonly Condition[]>(recipe.where ?? []);
  const put = (all: readonly Condition[]) => {
    setConditions(all);
    // One that says nothing yet leaves all rows in.
    const where = all.filter(({ is }) => is.length > 0);
    onChange({ ...recipe, where: where.length > 0 ? where : null });
  };
  const change = (place: number, to: Condition) => put(conditions.map((one, at) => (at === place ? to : one)));
  const [first] = seen.columns;
  return (
    <Stack sx={{ gap: 1.25, mt: 1.5, alignItems: 'flex-start' }}>
      {conditions.map((one, place) => (
        <Stack key={place} direction="row" sx={{ gap: 1.25, flexWrap: 'wrap', alignItems: 'center' }}>
          <Pick
            label={SHAPE.whereColumn}
            value={one.column}
            options={seen.columns.map((column) => [column, column] as const)}
            onPick={(column) => change(place, { column, is: [] })}
          />
          <Box sx={{ minWidth: 220, maxWidth: '100%' }}>
            <Autocomplete
              multiple
              freeSolo
              size="small"
              options={texts(seen, one.column)}
              value={[...one.is]}
              onChange={(_, is) =>
                change(place, { ...one, is: is.map((text) => text.trim()).filter((text) => text !== '') })
              }
              renderInput={(props) => <TextField {...props} label={SHAPE.whereIs} />}
            />
          </Box>
          <Button color="inherit" onClick={() => put(conditions.filter((_, at) => at !== place))}>
            {SHAPE.allRows}
          </Button>
        </Stack>
      ))}
      {conditions.length === 0 && first !== undefined && (
        <Button color="inherit" onClick={() => setConditions([{ column: first, is: [] }])}>
          {SHAPE.someRows}
        </Button>
      )}
    </Stack>
  );
}
