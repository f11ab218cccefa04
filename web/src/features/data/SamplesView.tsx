import { Box, Paper, Table, TableBody, TableCell, TableHead, TableRow, Typography, useTheme } from '@mui/material';
import { scaleLinear } from 'd3-scale';
import { useRef } from 'react';
import type { ShapedSample, ShapePreview } from '../../api/client';
import { brokenLine, dots, type Point } from '../../plot/marks';
import { useSize } from '../../plot/useSize';
import { Notice } from '../../ui/Notice';
import { SHAPE } from '../../words/data';

const LISTED = 12;
const REFUSED_LISTED = 8;

/** The samples as they will be: drawn in order, the first of them listed, and what is refused. */
export function SamplesView({ seen }: { seen: ShapePreview }) {
  return (
    <Paper component="section" aria-labelledby="as-will-be" sx={{ p: 2, minWidth: 0 }}>
      <Typography id="as-will-be" variant="h2" sx={{ mb: 1 }}>
        {SHAPE.asWillBe}
      </Typography>
      <div role="status">
        {seen.samples === 0 ? SHAPE.none : SHAPE.found(seen.samples, seen.gaps)}{' '}
        {seen.each > 1 && SHAPE.each(seen.each)}
      </div>
      <Drawn points={seen.points} />
      {seen.refused > 0 && (
        <Notice kind="caution">
          {SHAPE.refusedCells(seen.refused)}
          <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
            {seen.first_refused.slice(0, REFUSED_LISTED).map((cell) => (
              <li key={`${cell.row} ${cell.column}`}>{SHAPE.toRefused(cell)}</li>
            ))}
          </Box>
        </Notice>
      )}
      <Samples all={seen.first.slice(0, LISTED)} />
    </Paper>
  );
}

const HEIGHT = 120;
const AIR = 6;

function Drawn({ points }: { points: readonly (number | null)[] }) {
  const { ink } = useTheme();
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const values = points.filter((value) => value !== null);
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const y = scaleLinear([least, most === least ? least + 1 : most], [HEIGHT - AIR, AIR]);
  const x = scaleLinear([0, Math.max(points.length - 1, 1)], [AIR, Math.max(width - AIR, AIR)]);
  const places = points.map((value, i): Point | null => (value === null ? null : [x(i), y(value)]));
  return (
    <Box ref={box} sx={{ width: '100%', height: HEIGHT, my: 1 }}>
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={SHAPE.drawn} style={{ display: 'block' }}>
          <path d={brokenLine(places)} fill="none" stroke={ink.data} strokeWidth={1} opacity={0.7} />
          <path
            d={dots(
              places.filter((place) => place !== null),
              points.length > 150 ? 1.2 : 2.4,
            )}
            fill={ink.data}
          />
        </svg>
      )}
    </Box>
  );
}

function Samples({ all }: { all: readonly ShapedSample[] }) {
  if (all.length === 0) return null;
  return (
    <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="group" aria-label={SHAPE.asWillBe}>
      <Table size="small" sx={{ '& td': { whiteSpace: 'nowrap', fontVariantNumeric: 'tabular-nums' } }}>
        <TableHead>
          <TableRow>
            {[SHAPE.rowNumber, SHAPE.time, SHAPE.values, SHAPE.tags].map((name) => (
              <TableCell key={name}>{name}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {all.map((sample, i) => (
            <TableRow key={i}>
              <TableCell>{sample.row ?? ''}</TableCell>
              <TableCell>{sample.time?.replace('T', ' ').replace(/:00$/, '') ?? ''}</TableCell>
              <TableCell sx={{ whiteSpace: 'pre !important' }}>{valuesOf(sample)}</TableCell>
              <TableCell>
                {Object.entries(sample.tags)
                  .map(([tag, text]) => `${tag} ${text}`)
                  .join(', ')}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}

function valuesOf({ values, count, inspected, kinds }: ShapedSample): string {
  if (count != null) {
    const by = Object.entries(kinds).map(([kind, n]) => `${kind} ${n}`);
    return [SHAPE.counted(count, inspected ?? null), ...by].join(', ');
  }
  return values.length === 0 ? SHAPE.gap : values.map((value) => (value === null ? '–' : String(value))).join('  ');
}
