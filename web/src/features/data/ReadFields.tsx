import { Stack } from '@mui/material';
import { type Read, type Recipe, ofColumns } from '../../api/recipe';
import { Pick } from '../../ui/Pick';
import { SHAPE, timeExample } from '../../words/data';

/** Formats that are offered, and whatever else a recipe has. */
const FORMATS = [
  '%Y-%m-%d %H:%M:%S',
  '%Y-%m-%d %H:%M',
  '%Y-%m-%d',
  '%Y-%m-%dT%H:%M:%S',
  '%d.%m.%Y %H:%M',
  '%d.%m.%Y',
  '%d/%m/%Y %H:%M',
  '%d/%m/%Y',
  '%m/%d/%Y %I:%M %p',
  '%m/%d/%Y',
  '%d %b %Y %H:%M',
];

function formats(own: string | null | undefined, sheet: boolean): (readonly [string, string])[] {
  const known = own == null || FORMATS.includes(own) ? FORMATS : [own, ...FORMATS];
  return [
    ...(sheet ? [['', SHAPE.dates] as const] : []),
    ...known.map((format) => [format, timeExample(format)] as const),
  ];
}

/** How the file is read, in a line. */
export function ReadFields({
  recipe,
  sheets,
  onChange,
}: {
  recipe: Recipe;
  sheets: readonly string[];
  onChange: (recipe: Recipe) => void;
}) {
  const { read, time } = recipe;
  const put = (change: Partial<Read>) => onChange({ ...recipe, read: { ...read, ...change } });
  const few = (most: number) => Array.from({ length: most + 1 }, (_, n) => [String(n), String(n)] as const);
  const skipped = read.skip_rows ?? 0;
  return (
    <Stack direction="row" sx={{ gap: 1.25, flexWrap: 'wrap', mt: 1.5 }}>
      {sheets.length > 1 && (
        <Pick
          label={SHAPE.read.sheet}
          value={read.sheet ?? ''}
          options={[['', SHAPE.read.first], ...sheets.map((name) => [name, name] as const)]}
          onPick={(sheet) => put({ sheet: sheet === '' ? null : sheet })}
        />
      )}
      {read.format === 'csv' && (
        <Pick
          label={SHAPE.read.delimiter}
          value={read.delimiter ?? ','}
          options={Object.entries(SHAPE.delimiters)}
          onPick={(delimiter) => put({ delimiter })}
        />
      )}
      <Pick
        label={SHAPE.read.decimal}
        value={read.decimal ?? '.'}
        options={Object.entries(SHAPE.decimals)}
        onPick={(decimal) => put({ decimal: decimal as '.' })}
      />
      {read.format !== 'json' && (
        <>
          <Pick
            label={SHAPE.read.skip}
            value={String(skipped)}
            options={few(Math.max(12, skipped))}
            onPick={(rows) => put({ skip_rows: Number(rows) })}
          />
          <Pick
            label={SHAPE.read.header}
            value={String(read.header_rows ?? 1)}
            options={few(2)}
            onPick={(rows) => put({ header_rows: Number(rows) })}
          />
        </>
      )}
      {time != null && (
        <Pick
          label={SHAPE.read.format}
          value={time.format ?? ''}
          options={formats(time.format, read.format === 'xlsx' || read.format === 'ods')}
          onPick={(format) => onChange({ ...recipe, time: { ...time, format: format === '' ? null : format } })}
        />
      )}
      <Pick
        label={SHAPE.read.blank}
        value={recipe.blank_rows ?? 'gap'}
        options={Object.entries(SHAPE.blanks)}
        onPick={(blank) => onChange({ ...recipe, blank_rows: blank as 'gap' })}
      />
      {time != null && !ofColumns(recipe.shape) && (
        <Pick
          label={SHAPE.read.order}
          value={recipe.order ?? 'given'}
          options={Object.entries(SHAPE.orders)}
          onPick={(order) => onChange({ ...recipe, order: order as 'given' })}
        />
      )}
    </Stack>
  );
}
