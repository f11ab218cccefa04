import { Box, useTheme } from '@mui/material';
import { scalePoint, scaleLinear } from 'd3-scale';
import { useRef } from 'react';
import type { LevelBeside } from '../../api/client';
import { isHollow, shapes } from '../../plot/shapes';
import { useSize } from '../../plot/useSize';
import { lotsOf, markSays, monthName, PEERS } from '../../words/peers';

const [LEFT, RIGHT, TOP, HEIGHT, KEY] = [64, 24, 18, 150, 26];
/** A month takes no more room than this. */
const MONTH_AT_MOST = 240;
/** Lots of one level in one month stand so far apart. */
const LOTS_APART = 13;
/** The scale reaches at least so far, so that near looks near. */
const AT_LEAST = 2.5;
/** Room for the name of a month. */
const EVERY = 84;
/** Lines of the scale: the peers, and how far is watched and far. */
const LINES = [-2, -1, 0, 1, 2];

/** A mark for each level with its lots in each month, on the scale of the peers' sd about their mean. */
export function SdiDrawing({ analyte, levels }: { analyte: string; levels: readonly LevelBeside[] }) {
  const marks = marksOf(levels);
  // What is not there has no size: it is drawn from its first mark on.
  return marks.length === 0 ? null : <Drawn analyte={analyte} levels={levels} marks={marks} />;
}

/** Months that can be compared, each with its level and the place of its lots among those of the level. */
const marksOf = (levels: readonly LevelBeside[]) =>
  levels.flatMap((level, of) =>
    level.lots.flatMap((lot, nth) =>
      lot.months.flatMap((month) =>
        month.beside == null ? [] : [{ level, of, nth, lots: lotsOf(lot), month, beside: month.beside }],
      ),
    ),
  );

function Drawn({
  analyte,
  levels,
  marks,
}: {
  analyte: string;
  levels: readonly LevelBeside[];
  marks: ReturnType<typeof marksOf>;
}) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const { ink } = useTheme();
  const months = monthsBetween(marks.map(({ month }) => month.month));
  const reach = Math.max(AT_LEAST, ...marks.map(({ beside }) => Math.abs(beside.sdi) * 1.08));
  const bottom = TOP + HEIGHT;
  const right = Math.max(LEFT + 1, Math.min(width - RIGHT, LEFT + months.length * MONTH_AT_MOST));
  const x = scalePoint(months, [LEFT, right]).padding(0.5);
  const y = scaleLinear([-reach, reach], [bottom, TOP]);
  const step = Math.min(x.step(), 200) / (levels.length + 1);
  const placed = marks.map(({ of, nth, ...mark }) => {
    const beside = marks.filter((other) => other.of === of && other.month.month === mark.month.month);
    const lot = beside.findIndex((other) => other.nth === nth) - (beside.length - 1) / 2;
    const cx = (x(mark.month.month) ?? 0) + (of - (levels.length - 1) / 2) * step + lot * LOTS_APART;
    return { ...mark, of, at: [cx, y(mark.beside.sdi)] as const };
  });
  const every = Math.max(1, Math.ceil((months.length * EVERY) / (right - LEFT)));
  return (
    <Box ref={box} sx={{ minHeight: bottom + 22 + KEY }}>
      {width > 0 && (
        <svg width={width} height={bottom + 22 + KEY} role="group" aria-label={PEERS.drawing(analyte)}>
          {LINES.map((line) => (
            <g key={line}>
              <path
                d={`M${LEFT},${y(line)}H${right}`}
                stroke={ink.line}
                strokeDasharray={line === 0 ? undefined : Math.abs(line) === 1 ? '2 4' : '7 4'}
              />
              <text x={LEFT - 8} y={y(line) + 4} textAnchor="end" fontSize={12} fill={ink.line}>
                {line === 0 ? PEERS.zero : String(line).replace('-', '−')}
              </text>
            </g>
          ))}
          <text x={LEFT - 8} y={TOP - 6} textAnchor="end" fontSize={12} fill={ink.line}>
            {PEERS.sdi}
          </text>
          {placed.map(({ level, of, lots, month, beside, at: [cx, cy] }) => {
            const far = beside.distance === 'far';
            return (
              <g
                key={`${level.characteristic} ${lots} ${month.month}`}
                role="img"
                aria-label={markSays(level, lots, month)}
              >
                <title>{markSays(level, lots, month)}</title>
                <path d={`M${cx},${y(0)}V${cy}`} stroke={ink.line} strokeWidth={1} />
                <path
                  d={shapes(of, [[cx, cy]], 5)}
                  fill={beside.distance === 'near' || far ? ink.data : ink.ground}
                  stroke={ink.data}
                  strokeWidth={1.5}
                />
                {far && <circle cx={cx} cy={cy} r={10} fill="none" stroke={ink.signal} strokeWidth={2} />}
              </g>
            );
          })}
          {months.map(
            (month, i) =>
              i % every === 0 && (
                <text key={month} x={x(month)} y={bottom + 16} textAnchor="middle" fontSize={12} fill={ink.line}>
                  {monthName(month)}
                </text>
              ),
          )}
          <g transform={`translate(0 ${bottom + 22})`}>
            {levels.map((level, of) => (
              <g key={level.characteristic} transform={`translate(${LEFT + of * 110} 14)`}>
                <path d={shapes(of, [[0, 0]], 5)} fill={isHollow(of) ? ink.ground : ink.data} stroke={ink.data} />
                <text x={12} y={4} fontSize={13} fill={ink.data}>
                  {level.level}
                </text>
              </g>
            ))}
          </g>
        </svg>
      )}
    </Box>
  );
}

/** Every month from the first of these to the last. */
function monthsBetween(months: readonly string[]): string[] {
  const sorted = [...months].sort();
  const [first = '', last = ''] = [sorted[0], sorted[sorted.length - 1]];
  const all: string[] = [];
  const day = new Date(`${first}-01T00:00:00Z`);
  for (let month = first; month <= last; month = day.toISOString().slice(0, 7)) {
    all.push(month);
    day.setUTCMonth(day.getUTCMonth() + 1);
  }
  return all;
}
