import type { ScaleLinear } from 'd3-scale';

interface Props {
  x: ScaleLinear<number, number>;
  y: number;
  colour: string;
  rule: string;
  label: (value: number) => string;
}

/** Room for a figure. */
const EVERY = 80;

/** Values from left to right, at round figures. */
export function ValueAxis({ x, y, colour, rule, label }: Props) {
  const [left, right] = x.range() as [number, number];
  const ticks = x.ticks(Math.max(2, Math.floor((right - left) / EVERY)));
  return (
    <g>
      <path d={`M${left},${y}H${right}`} stroke={rule} />
      {ticks.map((tick) => (
        <g key={tick}>
          <path d={`M${x(tick)},${y}v4`} stroke={colour} />
          <text x={x(tick)} y={y + 18} textAnchor="middle" fontSize={12} fill={colour}>
            {label(tick)}
          </text>
        </g>
      ))}
    </g>
  );
}
