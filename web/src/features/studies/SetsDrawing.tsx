import { Box, useTheme } from '@mui/material';
import { scaleLinear } from 'd3-scale';
import { useRef } from 'react';
import type { SideBySideAnswer } from '../../api/client';
import { extent } from '../../plot/extent';
import { useSize } from '../../plot/useSize';
import { ValueAxis } from '../../plot/ValueAxis';
import { figure } from '../../words/numbers';
import { SIDE_BY_SIDE } from '../../words/sideBySide';

type Columns = SideBySideAnswer['columns'];

const [RIGHT, TOP, AXIS] = [16, 8, 28];

/** One set under another on one scale: its values in bars, its mean or rate with its interval. */
export function SetsDrawing({
  columns,
  decimals,
  specification,
}: {
  columns: Columns;
  decimals: number;
  specification: { lsl?: number | null; usl?: number | null } | null;
}) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const { ink } = useTheme();
  const rows = rowsOf(columns);
  const edges = columns.of === 'measured' ? columns.edges : [];
  const tall = rows.some(({ bars }) => bars.length > 0) ? 46 : 30;
  const left = Math.min(200, width / 3);
  const walls = [specification?.lsl, specification?.usl].filter((wall) => wall != null);
  const all = rows.flatMap(({ middle, interval }) => [middle, ...(interval ?? [])]);
  const x = scaleLinear(extent([...edges, ...all, ...walls], 0.03), [left, width - RIGHT]);
  const bottom = TOP + rows.length * tall;
  return (
    <Box ref={box} sx={{ minHeight: bottom + AXIS }}>
      {width > 0 && (
        <svg
          width={width}
          height={bottom + AXIS}
          role="img"
          aria-label={SIDE_BY_SIDE.picture}
          style={{ display: 'block' }}
        >
          {walls.map((wall) => (
            <path key={wall} d={`M${x(wall)},${TOP}V${bottom}`} stroke={ink.data} strokeWidth={2} />
          ))}
          {rows.map(({ name, bars, middle, interval }, row) => {
            const floor = TOP + (row + 1) * tall - 6;
            const high = Math.max(1, ...bars);
            const at = bars.length > 0 ? floor - 3 : floor - tall / 2 + 5;
            return (
              <g key={name}>
                <path d={`M0,${floor + 3}H${width}`} stroke={ink.faint} />
                <text x={0} y={floor - tall / 2 + 10} fontSize={13} fill={ink.data}>
                  {name.length > left / 7.4 ? `${name.slice(0, Math.floor(left / 7.4) - 1)}…` : name}
                  <title>{name}</title>
                </text>
                {bars.map((count, i) => {
                  const height = ((tall - 14) * count) / high;
                  const [from, to] = [x(edges[i] ?? 0), x(edges[i + 1] ?? 0)];
                  return count > 0 ? (
                    <rect
                      key={i}
                      x={from}
                      y={floor - height}
                      width={Math.max(1, to - from - 0.5)}
                      height={height}
                      fill={ink.data}
                      fillOpacity={0.22}
                    />
                  ) : null;
                })}
                {interval && (
                  <path
                    d={`M${x(interval[0] ?? 0)},${at}H${x(interval[1] ?? 0)}m0,-4v8M${x(interval[0] ?? 0)},${at - 4}v8`}
                    stroke={ink.data}
                    strokeWidth={2}
                    fill="none"
                  />
                )}
                <path d={`M${x(middle)},${at - 6}l5,6l-5,6l-5,-6z`} fill={ink.data} stroke={ink.ground} />
              </g>
            );
          })}
          {rows[0] && <path d={`M${x(rows[0].middle)},${TOP}V${bottom}`} stroke={ink.line} strokeDasharray="2 4" />}
          <ValueAxis
            x={x}
            y={bottom}
            colour={ink.line}
            rule={ink.line}
            label={(value) =>
              columns.of === 'measured' ? figure(value, decimals) : String(Number(value.toPrecision(3)))
            }
          />
        </svg>
      )}
    </Box>
  );
}

function rowsOf(columns: Columns) {
  if (columns.of === 'measured')
    return columns.columns.map(({ figures: f, bars, mean_interval: interval }) => ({
      name: f.name,
      bars,
      middle: f.mean,
      interval: interval ?? null,
    }));
  return columns.columns.map(({ figures: f }) => ({
    name: f.name,
    bars: [] as number[],
    middle: f.rate,
    interval: [f.low, f.high],
  }));
}
