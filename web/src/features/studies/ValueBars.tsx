import { useTheme } from '@mui/material';
import type { ScaleLinear } from 'd3-scale';
import type { Histogram } from '../../api/client';

/** The bars of a histogram, each a way to the samples in it. */
export function ValueBars({
  histogram: { edges, counts },
  x,
  y,
  label,
  outside = () => false,
  onBar,
}: {
  histogram: Histogram;
  x: ScaleLinear<number, number>;
  y: ScaleLinear<number, number>;
  label: (from: number, to: number, count: number) => string;
  /** Whether a bar lies outside of what is wanted. */
  outside?: (from: number, to: number) => boolean;
  onBar: (from: number, to: number, last: boolean) => void;
}) {
  const { ink } = useTheme();
  const bottom = y(0);
  return counts.map((count, i) => {
    if (count === 0) return null;
    const [from, to] = [edges[i] ?? 0, edges[i + 1] ?? 0];
    const out = outside(from, to);
    const choose = () => onBar(from, to, i === counts.length - 1);
    const words = label(from, to, count);
    return (
      <rect
        key={from}
        x={x(from) + 0.5}
        y={y(count)}
        width={Math.max(1, x(to) - x(from) - 1)}
        height={Math.max(1, bottom - y(count))}
        fill={out ? ink.signal : ink.data}
        fillOpacity={out ? 0.75 : 0.22}
        stroke={out ? ink.signal : ink.line}
        strokeWidth={0.75}
        role="button"
        tabIndex={0}
        aria-label={words}
        style={{ cursor: 'pointer' }}
        onClick={choose}
        onKeyDown={(event) => {
          if (event.key === 'Enter' || event.key === ' ') {
            event.preventDefault();
            choose();
          }
        }}
      >
        <title>{words}</title>
      </rect>
    );
  });
}
