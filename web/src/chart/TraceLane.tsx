import { scaleLinear } from 'd3-scale';
import type { ChartInk } from '../ui/theme';
import { CHART } from '../words/chart';
import { figure } from '../words/numbers';
import { type Clips, spread, type Trace, traceExtent, tracePath } from './model';

export const TRACES = 76;

const DASHES = [undefined, '5 3', '1.5 3', '8 3 1.5 3'];

/** Reference components as light traces on a scale of their own: no limits, no rules, no marks. */
export function TraceLane({
  traces,
  top,
  x,
  left,
  right,
  decimals,
  ink,
  clips,
}: {
  clips: Clips;
  traces: readonly Trace[];
  top: number;
  x: (place: number) => number;
  left: number;
  right: number;
  decimals: number;
  ink: ChartInk;
}) {
  const y = scaleLinear(traceExtent(traces), [top + TRACES - 6, top + 20]);
  const last = traces.map(({ values }) => values.findLast((value) => value !== null) ?? null);
  const places = spread(
    last.map((value) => (value === null ? top + TRACES : y(value))),
    15,
  );
  return (
    <g data-testid="traces" fontSize={13} fill={ink.line}>
      <text x={left} y={top + 13}>
        {CHART.components}
      </text>
      <path d={`M${left},${top}H${right}`} stroke={ink.faint} />
      {traces.map((trace, i) => (
        <g key={trace.name}>
          <path
            d={tracePath(trace.values, x, y)}
            fill="none"
            stroke={ink.line}
            strokeWidth={1}
            strokeDasharray={DASHES[i % DASHES.length]}
            clipPath={clips.plot}
          />
          <path
            d={`M${right + 4},${places[i] ?? 0}h18`}
            stroke={ink.line}
            strokeDasharray={DASHES[i % DASHES.length]}
          />
          <text x={right + 26} y={(places[i] ?? 0) + 4}>
            {trace.name} {figure(last[i], decimals)}
          </text>
        </g>
      ))}
    </g>
  );
}
