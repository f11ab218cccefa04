import { scaleLinear } from 'd3-scale';
import { brokenLine } from '../plot/marks';
import { spread } from '../plot/spread';
import type { ChartInk } from '../ui/theme';
import { CHART } from '../words/chart';
import { figure } from '../words/numbers';
import { TRACES } from './layout';
import { cutAt, type Ids, type Trace } from './model';
import { traceReach } from './panel';

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
  ids,
  place,
}: {
  ids: Ids;
  /** Where each mark stands. */
  place: readonly number[];
  traces: readonly Trace[];
  top: number;
  x: (place: number) => number;
  left: number;
  right: number;
  decimals: number;
  ink: ChartInk;
}) {
  const y = scaleLinear(traceReach(traces), [top + TRACES - 6, top + 20]);
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
            d={brokenLine(trace.values.map((value, i) => (value === null ? null : [x(place[i] ?? 0), y(value)])))}
            fill="none"
            stroke={ink.line}
            strokeWidth={1}
            strokeDasharray={DASHES[i % DASHES.length]}
            clipPath={cutAt(ids.plot)}
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
