import { Box, useTheme } from '@mui/material';
import { scaleLinear } from 'd3-scale';
import { useRef } from 'react';
import type { DistributionAnswer, Family } from '../../api/client';
import { through } from '../../plot/lines';
import { shapes } from '../../plot/shapes';
import { useSize } from '../../plot/useSize';
import { ValueAxis } from '../../plot/ValueAxis';
import { CAPABILITY } from '../../words/capability';
import { DISTRIBUTION } from '../../words/distribution';
import { figure } from '../../words/numbers';
import { ValueBars } from './ValueBars';

const [LEFT, RIGHT, TOP] = [44, 14, 12];
/** Height of the bars, and of the values that fall below them. */
const [BARS, RAIN, AXIS] = [230, 170, 26];

/**
 * The values in bars under their curve, and below them, on the same scale, the last samples as they came: the newest
 * nearest to the bars. What moved in the meantime is seen where a histogram alone would hide it.
 */
export function RainDrawing({
  answer,
  beside,
  onBar,
}: {
  answer: DistributionAnswer;
  /** Another family to draw. */
  beside: Family | null;
  onBar: (from: number, to: number, last: boolean) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const { ink } = useTheme();
  const { histogram, x: xs, curves, about, drawn, kept } = answer;
  const right = width - RIGHT;
  const all = drawn.flatMap(({ values, left_out: out }) => [...values, ...out]);
  const reach = [Math.min(xs[0] ?? 0, ...all), Math.max(xs[xs.length - 1] ?? 1, ...all)];
  const x = scaleLinear(reach, [LEFT, right]);
  const shown = curves.filter(({ family }, i) => i === 0 || family === beside);
  const highest = Math.max(1, ...histogram.counts, ...shown.flatMap(({ count }) => count));
  const bottom = TOP + BARS;
  const y = scaleLinear([0, highest * 1.06], [bottom, TOP]);
  const first = bottom + AXIS + 6;
  const at = scaleLinear([drawn.length - 1, 0], [first + 4, first + RAIN - 4]);
  const marks = (of: 'values' | 'left_out') =>
    drawn.flatMap((sample, i) => sample[of].map((value) => [x(value), drawn.length < 2 ? first + 4 : at(i)] as const));
  const height = first + RAIN + 6;
  return (
    <Box ref={box} sx={{ minHeight: height }}>
      {width > 0 && (
        <svg width={width} height={height} role="group" aria-label={DISTRIBUTION.drawing} style={{ display: 'block' }}>
          <title>{DISTRIBUTION.says(answer)}</title>
          {y.ticks(4).map((tick) => (
            <g key={tick}>
              <path d={`M${LEFT},${y(tick)}H${right}`} stroke={ink.faint} />
              <text x={LEFT - 6} y={y(tick) + 4} textAnchor="end" fontSize={12} fill={ink.line}>
                {tick}
              </text>
            </g>
          ))}
          <ValueBars
            histogram={histogram}
            x={x}
            y={y}
            label={(from, to, count) =>
              CAPABILITY.bar(figure(from, about.decimals + 1), figure(to, about.decimals + 1), count)
            }
            onBar={onBar}
          />
          {shown.map(({ family, count }, i) => (
            <path
              key={family}
              d={through(xs, count, x, y)}
              fill="none"
              stroke={ink.data}
              strokeWidth={i === 0 ? 2 : 1.5}
              strokeDasharray={i === 0 ? undefined : '6 4'}
              pointerEvents="none"
            />
          ))}
          {kept.map(
            (end, i) =>
              end != null && (
                <path
                  key={i}
                  d={`M${x(end)},${TOP}V${height - 6}`}
                  stroke={ink.line}
                  strokeWidth={1.5}
                  strokeDasharray="2 3"
                />
              ),
          )}
          <ValueAxis
            x={x}
            y={bottom}
            colour={ink.line}
            rule={ink.line}
            label={(value) => figure(value, about.decimals)}
          />
          <path d={shapes(0, marks('values'), 2.2)} fill={ink.data} fillOpacity={0.75} />
          <path d={crosses(marks('left_out'))} stroke={ink.line} strokeWidth={1.25} fill="none" />
          <text x={LEFT - 6} y={first + 12} textAnchor="end" fontSize={12} fill={ink.line}>
            {drawn[drawn.length - 1]?.number}
          </text>
          <text x={LEFT - 6} y={first + RAIN - 2} textAnchor="end" fontSize={12} fill={ink.line}>
            {drawn[0]?.number}
          </text>
        </svg>
      )}
    </Box>
  );
}

/** Values that were left out are crossed. */
function crosses(places: readonly (readonly [number, number])[]): string {
  return places.map(([cx, cy]) => `M${(cx - 3).toFixed(1)},${(cy - 3).toFixed(1)}l6,6m0,-6l-6,6`).join('');
}
