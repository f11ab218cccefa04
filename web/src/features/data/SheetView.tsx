import { Box, Button, Menu, MenuItem, Paper, Typography } from '@mui/material';
import { useMemo, useState } from 'react';
import type { ShapePreview } from '../../api/client';
import { type Part, partOf, partsOf, type Recipe, withPart } from '../../api/recipe';
import { SHAPE } from '../../words/data';

interface Props {
  seen: ShapePreview;
  recipe: Recipe;
  onChange: (recipe: Recipe) => void;
}

/** What a dragged mark is called while it is on its way. */
const MARK = 'application/x-nuvek-mark';

/** The sheet as it stands, a mark over each column for what it is. */
export function SheetView({ seen, recipe, onChange }: Props) {
  const { columns, sheet } = seen;
  const refused = useMemo(
    () => new Map(seen.first_refused.map((cell) => [`${cell.row} ${cell.column}`, cell])),
    [seen.first_refused],
  );
  const first = (recipe.read.skip_rows ?? 0) + (recipe.read.header_rows ?? 1);
  const last = sheet[sheet.length - 1]?.number ?? 0;
  const data = recipe.read.format === 'json' ? 0 : first;
  const more = seen.rows - Math.max(0, last - data);
  return (
    <Paper component="section" aria-labelledby="sheet" sx={{ p: 2, minWidth: 0 }}>
      <Typography id="sheet" variant="h2" sx={{ mb: 1 }}>
        {SHAPE.sheet}
      </Typography>
      <Box
        tabIndex={0}
        role="group"
        aria-labelledby="sheet"
        sx={{
          overflow: 'auto',
          maxHeight: 620,
          '& td, & th': { px: 1, py: 0.25, whiteSpace: 'nowrap', textAlign: 'left' },
        }}
      >
        <Box component="table" sx={{ borderCollapse: 'collapse', fontVariantNumeric: 'tabular-nums' }}>
          <Box component="thead" sx={{ position: 'sticky', top: 0, bgcolor: 'background.paper', zIndex: 1 }}>
            <tr>
              <th scope="col">{SHAPE.rowNumber}</th>
              {columns.map((column) => (
                <th key={column} scope="col">
                  <Mark column={column} columns={columns} recipe={recipe} onChange={onChange} />
                </th>
              ))}
            </tr>
          </Box>
          <tbody>
            {sheet.map(({ number, cells }) => (
              <Box component="tr" key={number} sx={above(number, data)}>
                <Box component="td" sx={{ color: 'text.secondary' }}>
                  {number}
                </Box>
                {cells.map((cell, i) => {
                  const why = refused.get(`${number} ${columns[i] ?? ''}`);
                  const left = number > data && partOf(recipe, columns[i] ?? '') === 'left_out';
                  return (
                    <Box
                      component="td"
                      key={i}
                      sx={{
                        color: why ? 'error.main' : left ? 'text.secondary' : undefined,
                        fontStyle: left ? 'italic' : undefined,
                        outline: why ? '1.5px solid' : undefined,
                        maxWidth: 220,
                        overflow: 'hidden',
                        textOverflow: 'ellipsis',
                      }}
                      title={why ? SHAPE.toRefused(why) : undefined}
                    >
                      {why && <span aria-hidden>▲ </span>}
                      {cell}
                    </Box>
                  );
                })}
              </Box>
            ))}
          </tbody>
        </Box>
      </Box>
      {more > 0 && <Typography color="text.secondary">{SHAPE.more(more)}</Typography>}
    </Paper>
  );
}

/** Rows above the data are names or are skipped. */
const above = (number: number, data: number) =>
  number <= data ? { fontWeight: 600, bgcolor: 'action.hover', color: 'text.secondary' } : {};

/** What a column is: chosen from what it can be, or carried over from another. */
function Mark({
  column,
  columns,
  recipe,
  onChange,
}: Omit<Props, 'seen'> & { column: string; columns: readonly string[] }) {
  const [opener, setOpener] = useState<HTMLElement | null>(null);
  const part = partOf(recipe, column);
  const give = (part: Part) => {
    setOpener(null);
    onChange(withPart(recipe, column, part, columns));
  };
  return (
    <>
      <Button
        size="small"
        color={part === 'left_out' ? 'inherit' : 'primary'}
        variant={part === 'left_out' ? 'text' : 'outlined'}
        aria-haspopup="menu"
        aria-label={SHAPE.markOf(column, SHAPE.part[part])}
        draggable={part !== 'left_out'}
        onDragStart={(event) => event.dataTransfer.setData(MARK, JSON.stringify({ from: column, part }))}
        onDragOver={(event) => {
          if (event.dataTransfer.types.includes(MARK)) event.preventDefault();
        }}
        onDrop={(event) => {
          event.preventDefault();
          const { from, part } = JSON.parse(event.dataTransfer.getData(MARK)) as { from: string; part: Part };
          if (from === column) return;
          onChange(withPart(withPart(recipe, from, 'left_out', columns), column, part, columns));
        }}
        onClick={(event) => setOpener(event.currentTarget)}
        sx={{ display: 'block', textAlign: 'left', lineHeight: 1.25, minHeight: 48, width: '100%' }}
      >
        <span>{column}</span>
        <Box component="span" sx={{ display: 'block', fontWeight: 400, fontSize: '0.8em' }}>
          {SHAPE.part[part]}
        </Box>
      </Button>
      <Menu anchorEl={opener} open={opener !== null} onClose={() => setOpener(null)}>
        {partsOf(recipe).map((one) => (
          <MenuItem key={one} selected={one === part} onClick={() => give(one)} sx={{ minHeight: 48 }}>
            {SHAPE.part[one]}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
