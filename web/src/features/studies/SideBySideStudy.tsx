import { Box, Button, Paper, Stack, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import type { Estimate, Question, SideBySideAnswer } from '../../api/client';
import { figure, grouped, significant } from '../../words/numbers';
import { SIDE_BY_SIDE, sideBySideInWords } from '../../words/sideBySide';
import { SetsDrawing } from './SetsDrawing';
import { useBehind } from './useBehind';

type Asked = Extract<Question, { sort: 'side_by_side' }>;
type Columns = SideBySideAnswer['columns'];
type Column = Columns['columns'][number];

/** A row of the table: what it is called, and its figure in each column. */
interface Line {
  name: string;
  cells: readonly (string | Estimate | null | undefined)[];
  decimals: number;
}

/** The sets on one scale, and their figures in columns: what differs first, then what each is. */
export function SideBySideStudy({ question, answer }: { question: Asked; answer: SideBySideAnswer }) {
  const { columns, about, empty, specification } = answer;
  const decimals = about[0]?.decimals ?? 0;
  const [show, panel] = useBehind(decimals);
  const open = ({ of, figures }: Column) => {
    const set = question.sets[of.set];
    if (set) show(figures.name, set.of, of.group == null ? {} : { group: of.group, split: question.split ?? null });
  };
  const [own, against] = lines(columns, decimals);
  return (
    <Stack spacing={2} sx={{ minWidth: 0 }}>
      <Paper component="section" aria-label={SIDE_BY_SIDE.picture} sx={{ p: 2 }}>
        <Typography variant="h2" sx={{ mb: 1 }}>
          {SIDE_BY_SIDE.picture}
        </Typography>
        <SetsDrawing columns={columns} decimals={decimals} specification={specification ?? null} />
        <Typography color="text.secondary" variant="body2" sx={{ mt: 0.5 }}>
          {columns.of === 'measured' ? SIDE_BY_SIDE.measuredPicture : SIDE_BY_SIDE.countedPicture}
        </Typography>
        {sideBySideInWords(answer)
          .slice(0, 12)
          .map((sentence) => (
            <Typography key={sentence} sx={{ mt: 0.75 }}>
              {sentence}
            </Typography>
          ))}
        {empty.length > 0 && <Typography color="text.secondary">{SIDE_BY_SIDE.empty(empty)}</Typography>}
        {columns.of === 'measured' && specification == null && (
          <Typography color="text.secondary">{SIDE_BY_SIDE.ownSpec}</Typography>
        )}
      </Paper>
      {panel}
      <Paper component="section" aria-label={SIDE_BY_SIDE.figures} sx={{ p: 2 }}>
        <Typography variant="h2" sx={{ mb: 1 }}>
          {SIDE_BY_SIDE.figures}
        </Typography>
        <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="group" aria-label={SIDE_BY_SIDE.figures}>
          <Table size="small" sx={{ width: 'auto' }}>
            <TableHead>
              <TableRow>
                <TableCell>{SIDE_BY_SIDE.figure}</TableCell>
                {columns.columns.map((column) => (
                  <TableCell key={column.figures.name} align="right" padding="none">
                    <Button size="small" onClick={() => open(column)} sx={{ maxWidth: 200 }}>
                      {column.figures.name}
                    </Button>
                  </TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {own.map((line) => (
                <Cells key={line.name} line={line} />
              ))}
              {columns.columns.length > 1 && (
                <TableRow>
                  <TableCell component="th" colSpan={columns.columns.length + 1} sx={{ pt: 2, fontWeight: 600 }}>
                    {SIDE_BY_SIDE.against}
                  </TableCell>
                </TableRow>
              )}
              {columns.columns.length > 1 && against.map((line) => <Cells key={line.name} line={line} />)}
            </TableBody>
          </Table>
        </Box>
      </Paper>
    </Stack>
  );
}

function Cells({ line: { name, cells, decimals } }: { line: Line }) {
  return (
    <TableRow>
      <TableCell component="th" scope="row">
        {name}
      </TableCell>
      {cells.map((cell, i) => (
        <TableCell key={i} align="right" sx={{ whiteSpace: 'nowrap' }}>
          {typeof cell === 'string' ? (
            cell
          ) : cell == null ? (
            '–'
          ) : (
            <>
              <strong>{told(cell.value, decimals)}</strong>
              <Typography variant="body2" color="text.secondary">
                {SIDE_BY_SIDE.to(told(cell.low, decimals), told(cell.high, decimals))}
                <br />
                {SIDE_BY_SIDE.p(cell.p)}
              </Typography>
            </>
          )}
        </TableCell>
      ))}
    </TableRow>
  );
}

/** With the decimals of the row; a difference that would vanish with three digits of its own. */
function told(value: number | null | undefined, decimals: number): string {
  return value == null || value === 0 || Math.abs(value) >= 5 * 10 ** -decimals
    ? figure(value, decimals)
    : significant(value);
}

/** Rows of what the sets are, and of how they differ from the first. */
function lines(columns: Columns, d: number): [own: Line[], against: Line[]] {
  const row = <C extends Column>(
    all: readonly C[],
    name: string,
    decimals: number,
    of: (column: C) => string | number | Estimate | null | undefined,
  ): Line => ({
    name,
    decimals,
    cells: all.map((column) => {
      const cell = of(column);
      return typeof cell === 'number' ? figure(cell, decimals) : cell;
    }),
  });
  const S = SIDE_BY_SIDE;
  switch (columns.of) {
    case 'measured': {
      const all = columns.columns;
      return [
        [
          row(all, S.points, 0, ({ figures: f }) => grouped(f.points)),
          row(all, S.n, 0, ({ figures: f }) => grouped(f.n)),
          row(all, S.mean, d + 1, ({ figures: f }) => f.mean),
          row(all, S.sd, d + 2, ({ figures: f }) => f.sd),
          row(all, S.cv, 2, ({ figures: f }) => f.cv_percent),
          row(all, S.min, d, ({ figures: f }) => f.min),
          row(all, S.median, d + 1, ({ figures: f }) => f.median),
          row(all, S.max, d, ({ figures: f }) => f.max),
          row(all, S.within, d + 2, ({ figures: f }) => f.sigma_within),
          row(all, S.below, 0, ({ figures: f }) => f.below),
          row(all, S.above, 0, ({ figures: f }) => f.above),
          row(all, S.cp, 2, ({ figures: f }) => f.cp),
          row(all, S.cpk, 2, ({ figures: f }) => f.cpk),
          row(all, S.pp, 2, ({ figures: f }) => f.pp),
          row(all, S.ppk, 2, ({ figures: f }) => f.ppk),
        ].filter(({ cells }) => cells.some((cell) => cell != null)),
        [
          row(all, S.difference, d + 1, ({ against: a }) => a?.mean_difference),
          row(all, S.ratioSd, 2, ({ against: a }) => a?.sd_ratio),
          row(all, S.bias, 2, ({ against: a }) => a?.bias_percent),
          row(all, S.sdi, 2, ({ against: a }) => a?.sdi),
          row(all, S.cvr, 2, ({ against: a }) => a?.cvr),
        ],
      ];
    }
    case 'units': {
      const all = columns.columns;
      return [counted(row, all), [row(all, S.differenceRates, 5, ({ against: a }) => a?.difference)]];
    }
    case 'events': {
      const all = columns.columns;
      return [counted(row, all), [row(all, S.ratioRates, 2, ({ against: a }) => a?.ratio)]];
    }
  }
}

type Counted = Extract<Columns, { of: 'units' | 'events' }>['columns'][number];

function counted<C extends Counted>(
  row: (
    all: readonly C[],
    name: string,
    decimals: number,
    of: (column: C) => string | number | Estimate | null | undefined,
  ) => Line,
  all: readonly C[],
): Line[] {
  const S = SIDE_BY_SIDE;
  return [
    row(all, S.points, 0, ({ figures: f }) => grouped(f.points)),
    row(all, S.size, 0, ({ figures: f }) => grouped(f.size)),
    row(all, S.count, 0, ({ figures: f }) => grouped(f.count)),
    row(all, S.rate, 5, ({ figures: f }) => f.rate),
    row(all, S.interval, 5, ({ figures: f }) => S.to(figure(f.low, 5), figure(f.high, 5))),
  ];
}
