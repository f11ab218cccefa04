import { useTheme } from '@mui/material';
import { scaleLinear } from 'd3-scale';
import { useMemo, useRef } from 'react';
import { brokenLine, dots, type Point, steps } from '../plot/marks';
import { edges as edgesOf } from '../plot/places';
import { useOwnIds } from '../plot/useOwnIds';
import { useSize } from '../plot/useSize';
import { cutAt, type Panel } from './model';
import { levels, reach } from './panel';

const AIR = 6;

interface Props {
  panel: Panel;
  /** The place of each mark. */
  place: readonly number[];
  /** Places that a phase begins at. */
  phases: readonly number[];
  /** Where each mark is drawn: on its place, or in time. */
  at: readonly number[];
  /** What the axis reaches over. */
  from: number;
  to: number;
  label: string;
  /** As CSS says it. */
  height: number | string;
  /** How bold lines and rings are: 1 within reach of a hand, more from farther off. */
  bold?: number;
}

/** The first panel of a chart on little room: data, centre and limits, rings, the newest point. */
export function SmallPanel({ panel, place, phases, at, from, to, label, height: wanted, bold = 1 }: Props) {
  const { ink } = useTheme();
  const box = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(box);
  const { plot } = useOwnIds('plot');
  const drawn = useMemo(() => {
    const air = AIR * bold;
    const x = (place: number) => air + ((place - from) / Math.max(to - from, 1e-9)) * (width - 2 * air);
    const y = scaleLinear(reach(panel, undefined), [height - 3 * bold, 3 * bold]);
    const starts = new Set(phases);
    const breaks = new Set(place.flatMap((own, mark) => (starts.has(own) ? [mark] : [])));
    const points = panel.value.map((value, i): Point | null => (value === null ? null : [x(at[i] ?? 0), y(value)]));
    const edges = edgesOf(at).map(x);
    const all = { from: 0, to: at.length - 1 };
    const level = (of: 'center' | 'lower' | 'upper') => steps(levels(panel.lines, all, (l) => l[of], edges, y, breaks));
    return {
      data: brokenLine(points),
      limits: `${level('upper')}${level('lower')}`,
      center: level('center'),
      rings: dots(
        panel.flagged.flatMap((mark): Point[] => {
          const point = points[mark];
          return point ? [point] : [];
        }),
        3.5 * bold,
      ),
      newest: points.findLast((point) => point !== null) ?? null,
    };
  }, [panel, place, phases, at, from, to, width, height, bold]);
  return (
    <div ref={box} style={{ width: '100%', height: wanted }}>
      {width > 0 && height > 0 && (
        <svg width={width} height={height} role="img" aria-label={label} style={{ display: 'block' }}>
          <clipPath id={plot}>
            <rect width={width} height={height} />
          </clipPath>
          <g clipPath={cutAt(plot)} fill="none">
            <path d={drawn.limits} stroke={ink.line} strokeWidth={bold} strokeDasharray={`${5 * bold} ${3 * bold}`} />
            <path d={drawn.center} stroke={ink.line} strokeWidth={0.9 * bold} />
            <path d={drawn.data} stroke={ink.data} strokeWidth={1.1 * bold} opacity={0.8} />
            <path d={drawn.rings} stroke={ink.signal} strokeWidth={1.5 * bold} />
            {drawn.newest && <circle cx={drawn.newest[0]} cy={drawn.newest[1]} r={3 * bold} fill={ink.data} />}
          </g>
        </svg>
      )}
    </div>
  );
}
