import type { ChartInk } from '../ui/theme';
import type { Beside, Pencil } from './model';

/** Lines beside those that hold: fine dots, named at their left end. */
export function BesideLines({
  beside,
  left,
  right,
  y,
  ink,
}: {
  beside: Beside;
  left: number;
  right: number;
  y: (value: number) => number;
  ink: ChartInk;
}) {
  const lines = [beside.upper, beside.center, beside.lower].filter((value) => value != null);
  const top = Math.max(...lines);
  return (
    <g opacity={0.9}>
      {lines.map((value) => (
        <path
          key={value}
          d={`M${left},${y(value)}H${right}`}
          stroke={ink.line}
          strokeDasharray="1 4"
          strokeWidth={1.6}
        />
      ))}
      {lines.length > 0 && (
        <text
          x={left + 6}
          y={y(top) - 4}
          fontSize={12}
          fill={ink.line}
          // Legible where a line that holds runs behind it.
          stroke={ink.ground}
          strokeWidth={4}
          paintOrder="stroke"
        >
          {beside.name}
        </text>
      )}
    </g>
  );
}

/** A point that is typed but not saved: hollow, tied to the one before. */
export function PencilMark({
  at,
  from,
  pencil,
  ink,
}: {
  at: [number, number];
  from: readonly [number, number] | undefined;
  pencil: Pencil;
  ink: ChartInk;
}) {
  return (
    <g data-testid={`pencil-${pencil.statistic}`} data-value={pencil.value}>
      {from && (
        <path d={`M${from[0]},${from[1]}L${at[0]},${at[1]}`} stroke={ink.data} strokeDasharray="2 4" fill="none" />
      )}
      <circle cx={at[0]} cy={at[1]} r={5} fill={ink.ground} stroke={ink.data} strokeWidth={1.6} strokeDasharray="3 2" />
      {pencil.flagged && (
        <circle cx={at[0]} cy={at[1]} r={9.5} fill="none" stroke={ink.signal} strokeWidth={2} strokeDasharray="4 3" />
      )}
    </g>
  );
}
