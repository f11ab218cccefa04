import { line } from 'd3-shape';
import { memo } from 'react';
import { boxes, crosses, dots, type Point, steps } from '../plot/marks';
import { Gutter } from '../plot/Gutter';
import { isHollow, shapes } from '../plot/shapes';
import type { ChartInk } from '../ui/theme';
import { panelFigure } from '../words/signals';
import { BesideLines, PencilMark } from './PanelExtras';
import { type ChartModel, cutAt, type Ids, linesAt, type Panel, type Pencil } from './model';
import { bands, levels, type Seen } from './panel';

export interface Frame {
  panel: Panel;
  top: number;
  height: number;
  y: (value: number) => number;
  pencil: Pencil | undefined;
}

interface Props extends Frame {
  model: ChartModel;
  ids: Ids;
  left: number;
  right: number;
  gutter: number;
  x: (place: number) => number;
  /** The marks that are on the screen, and the edges between all of them. */
  seen: Seen;
  edges: readonly number[];
  /** Marks that a phase begins with. */
  breaks: ReadonlySet<number>;
  zones: boolean;
  labels: boolean;
  ink: ChartInk;
}

/** How large marks are drawn, by the room that each has. */
function sizes(room: number) {
  if (room < 1.2) return { dot: 0, shape: 2.5, cross: 2.5, ring: 3, rim: 1.2 };
  if (room < 4) return { dot: 1.4, shape: 3, cross: 3, ring: 4.5, rim: 1.5 };
  return { dot: 3, shape: 4, cross: 4, ring: 6.5, rim: 2 };
}

/** One panel: quiet lines, data in ink, rings in the hue of signals. */
export const PanelMarks = memo(function PanelMarks(props: Props) {
  const { model, panel, top, height, y, pencil, ids, left, right, gutter, x, seen, edges, breaks, zones, ink } = props;
  const { place, aside, told, decimals, places } = model;
  const last = place.length - 1;
  // A sample that is begun has fewer pieces, and limits of its own: wider ones.
  const ownLimits = pencil?.lower != null || pencil?.upper != null ? [pencil.lower, pencil.center, pencil.upper] : null;
  const onePlace = x(1) - x(0);
  const tail = pencil && ownLimits === null ? onePlace : 0;
  const level = (of: 'center' | 'lower' | 'upper') =>
    steps(levels(panel.lines, seen, (lines) => lines[of], edges, y, breaks, tail));
  const size = sizes((right - left) / Math.max(1, seen.to - seen.from));

  const counted: Point[] = [];
  const leftOut: Point[] = [];
  // The line looks past what is set aside, and breaks where nothing was measured.
  const along: (Point | null)[] = [];
  const ofTold = new Map<number, Point[]>();
  for (let i = seen.from; i <= seen.to; i++) {
    const value = panel.value[i];
    const isAside = aside.has(i);
    if (value == null) {
      if (!isAside) along.push(null);
      continue;
    }
    const point: Point = [x(place[i] ?? 0), y(value)];
    if (isAside) {
      leftOut.push(point);
      continue;
    }
    along.push(point);
    counted.push(point);
    const of = told?.[i];
    if (of != null) ofTold.set(of, [...(ofTold.get(of) ?? []), point]);
  }
  const flagged = panel.flagged.flatMap((i): Point[] => {
    const value = panel.value[i];
    return i < seen.from || i > seen.to || value == null ? [] : [[x(place[i] ?? 0), y(value)]];
  });
  const data = line<Point | null>()
    .defined((point) => point !== null)
    .x((point) => Math.round((point?.[0] ?? 0) * 10) / 10)
    .y((point) => Math.round((point?.[1] ?? 0) * 10) / 10);
  // At the right edge stand the lines that hold there, and the newest value while its point is in sight.
  const edge = place.findLastIndex((at, mark) => mark <= seen.to && x(at) <= right);
  const holding = linesAt(panel, edge);
  const newest = pencil?.value ?? (edge === last ? panel.value[last] : null);
  const lastSeen = panel.value.findLastIndex((value) => value != null);
  const clip = cutAt(ids.plot);
  return (
    <g>
      <text x={left + 4} y={top - 5} fill={ink.line} fontSize={13} fontWeight={600}>
        {model.panelTitle(panel.statistic)}
      </text>
      <g clipPath={clip}>
        {zones && panel.zones.length > 0 && (
          <>
            <path d={boxes(bands(panel.zones, seen, 0, edges, y))} fill={ink.tint} opacity={0.035} />
            <path d={boxes(bands(panel.zones, seen, 1, edges, y))} fill={ink.tint} opacity={0.035} />
          </>
        )}
        <path d={level('center')} fill="none" stroke={ink.line} strokeWidth={1.2} />
        <path d={level('upper')} fill="none" stroke={ink.line} strokeWidth={1.4} strokeDasharray="7 4" />
        <path d={level('lower')} fill="none" stroke={ink.line} strokeWidth={1.4} strokeDasharray="7 4" />
        {panel.beside && <BesideLines beside={panel.beside} left={left} right={right} y={y} ink={ink} />}
        <path d={data(along) ?? ''} fill="none" stroke={ink.data} strokeWidth={size.dot > 0 ? 1.3 : 1} opacity={0.75} />
        {told === undefined
          ? size.dot > 0 && <path d={dots(counted, size.dot)} fill={ink.data} />
          : [...ofTold].map(([mark, points]) => (
              <path
                key={mark}
                data-testid={`mark-${mark}`}
                d={shapes(mark, points, size.shape)}
                fill={isHollow(mark) ? ink.ground : ink.data}
                stroke={ink.data}
                strokeWidth={1.3}
              />
            ))}
        {leftOut.length > 0 && (
          <path
            d={crosses(leftOut, size.cross)}
            fill="none"
            stroke={ink.line}
            strokeWidth={1.4}
            opacity={0.8}
            data-testid={`aside-${panel.statistic}`}
          />
        )}
        <path d={dots(flagged, size.ring)} fill="none" stroke={ink.signal} strokeWidth={size.rim} />
        {ownLimits?.map(
          (limit, i) =>
            limit != null && (
              <path
                key={i}
                d={`M${x(places - 0.5)},${y(limit)}H${x(places + 0.5)}`}
                stroke={ink.line}
                strokeWidth={i === 1 ? 1.2 : 1.4}
                strokeDasharray={i === 1 ? undefined : '3 2'}
              />
            ),
        )}
        {pencil?.value != null && (
          <PencilMark
            at={[x(places), y(pencil.value)]}
            from={lastSeen < 0 ? undefined : [x(place[lastSeen] ?? 0), y(panel.value[lastSeen] ?? 0)]}
            pencil={pencil}
            ink={ink}
          />
        )}
      </g>
      {props.labels && (
        <Gutter
          labels={(['upper', 'center', 'lower'] as const).flatMap((of) => {
            const value = holding?.[of];
            const name = { upper: 'UCL', center: 'CL', lower: 'LCL' }[of];
            if (value == null || y(value) < top || y(value) > top + height) return [];
            return [{ name, y: y(value), text: panelFigure(panel.statistic, value, decimals) }];
          })}
          newest={
            newest == null
              ? null
              : {
                  y: y(newest),
                  text: panelFigure(panel.statistic, newest, decimals),
                  pencilled: pencil?.value != null,
                }
          }
          right={right}
          width={gutter}
          line={ink.line}
          data={ink.data}
        />
      )}
    </g>
  );
});
