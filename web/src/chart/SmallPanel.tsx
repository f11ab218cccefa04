import { useTheme } from '@mui/material';
import { scaleLinear } from 'd3-scale';
import { useMemo, useRef } from 'react';
import { brokenLine, dots, type Point, steps } from '../plot/marks';
import { edges as edgesOf } from '../plot/places';
import { useOwnIds } from '../plot/useOwnIds';
import { useWidth } from '../plot/useWidth';
import { cutAt, type Panel } from './model';
import { levels, reach } from './panel';

const HEIGHT = 92;
const AIR = 6;

interface Props {
  panel: Panel;
  /** Where each mark stands: on its places, or in time. */
  at: readonly number[];
  /** What the axis reaches over. */
  from: number;
  to: number;
  /** Marks that a phase begins with. */
  breaks: ReadonlySet<number>;
  label: string;
}

/** The first panel of a chart on little room: data, centre and limits, rings, the newest point. */
export function SmallPanel({ panel, at, from, to, breaks, label }: Props) {
  const { ink } = useTheme();
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const { plot } = useOwnIds('plot');
  const drawn = useMemo(() => {
    const x = (place: number) => AIR + ((place - from) / Math.max(to - from, 1e-9)) * (width - 2 * AIR);
    const y = scaleLinear(reach(panel, undefined), [HEIGHT - 3, 3]);
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
        3.5,
      ),
      newest: points.findLast((point) => point !== null) ?? null,
    };
  }, [panel, at, from, to, breaks, width]);
  return (
    <div ref={box} style={{ width: '100%', height: HEIGHT }}>
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={label} style={{ display: 'block' }}>
          <clipPath id={plot}>
            <rect width={width} height={HEIGHT} />
          </clipPath>
          <g clipPath={cutAt(plot)} fill="none">
            <path d={drawn.limits} stroke={ink.line} strokeWidth={1} strokeDasharray="5 3" />
            <path d={drawn.center} stroke={ink.line} strokeWidth={0.9} />
            <path d={drawn.data} stroke={ink.data} strokeWidth={1.1} opacity={0.8} />
            <path d={drawn.rings} stroke={ink.signal} strokeWidth={1.5} />
            {drawn.newest && <circle cx={drawn.newest[0]} cy={drawn.newest[1]} r={3} fill={ink.data} />}
          </g>
        </svg>
      )}
    </div>
  );
}
