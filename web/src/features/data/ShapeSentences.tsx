import { FormControlLabel, Radio, RadioGroup, Stack, TextField } from '@mui/material';
import { type Kind, type Recipe, type Shape, withKind } from '../../api/recipe';
import { Pick } from '../../ui/Pick';
import { SHAPE } from '../../words/data';

interface Props {
  recipe: Recipe;
  columns: readonly string[];
  onChange: (recipe: Recipe) => void;
}

const KINDS = Object.entries(SHAPE.kind) as [Kind, string][];

/** What stands in a row, chosen as a sentence; what it still asks for stands under it. */
export function ShapeSentences({ recipe, columns, onChange }: Props) {
  return (
    <>
      <RadioGroup
        row
        aria-label={SHAPE.sentence}
        value={recipe.shape.kind}
        onChange={(_, kind) => onChange(withKind(recipe, kind as Kind, columns))}
        sx={{ columnGap: 1 }}
      >
        {KINDS.map(([kind, sentence]) => (
          <FormControlLabel key={kind} value={kind} control={<Radio />} label={sentence} />
        ))}
      </RadioGroup>
      <Asked recipe={recipe} onChange={onChange} />
    </>
  );
}

/** What the shape asks for beside its columns. */
function Asked({ recipe, onChange }: Omit<Props, 'columns'>) {
  const { shape } = recipe;
  const put = (shape: Shape) => onChange({ ...recipe, shape });
  const fields = (() => {
    switch (shape.kind) {
      case 'column':
        return (
          <TextField
            type="number"
            size="small"
            fullWidth={false}
            label={SHAPE.size}
            value={shape.size}
            onChange={(event) => put({ ...shape, size: Number(event.target.value) })}
            slotProps={{ htmlInput: { min: 1, max: 200 } }}
            sx={{ width: 150 }}
          />
        );
      case 'grouped':
        return (
          <Pick
            label={SHAPE.gather}
            value={shape.gather ?? 'neighbours'}
            options={Object.entries(SHAPE.gathered)}
            onPick={(gather) => put({ ...shape, gather: gather as 'neighbours' })}
          />
        );
      case 'crossed':
        return (
          <Pick
            label={SHAPE.sample}
            value={shape.sample}
            options={Object.entries(SHAPE.crossed)}
            onPick={(sample) => {
              const now = { ...recipe, shape: { ...shape, sample: sample as 'cell' } };
              // Labels alone tell of a column.
              onChange(sample === 'column' ? { ...now, time: null, tags: null } : now);
            }}
          />
        );
      case 'period':
        return (
          <>
            <Pick
              label={SHAPE.per}
              value={shape.per}
              options={Object.entries(SHAPE.periods)}
              onPick={(per) => put({ ...shape, per: per as 'day' })}
            />
            <Pick
              label={SHAPE.how}
              value={shape.how}
              options={Object.entries(SHAPE.hows)}
              onPick={(how) => put({ ...shape, how: how as 'sum', ...(how === 'count' && { value: null }) })}
            />
          </>
        );
      default:
        return null;
    }
  })();
  return (
    fields && (
      <Stack direction="row" sx={{ gap: 1.25, flexWrap: 'wrap', my: 1 }}>
        {fields}
      </Stack>
    )
  );
}
