import type { ScaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import { memo } from 'react';
import type { ChartInk } from '../ui/theme';
import { panelFigure } from '../words/signals';
import { isHollow, marks } from './shapes';
import {
  bands,
  type Beside,
  type Clips,
  crosses,
  dots,
  type Panel,
  type PanelPoint,
  type Pencil,
  spread,
  steps,
} from './model';

export interface PanelFrame {
  top: number;
  height: number;
  left: number;
  right: number;
}

interface Props {
  /** What the panel shows. */
  title: string;
  clips: Clips;
  marks: readonly (number | null)[] | undefined;
  panel: Panel;
  frame: PanelFrame;
  x: (place: number) => number;
  y: ScaleLinear<number, number>;
  ink: ChartInk;
  decimals: number;
  breaks: ReadonlySet<number>;
  aside: ReadonlySet<number>;
  pencil: Pencil | undefined;
  selected: number | null;
}

const GUTTER_GAP = 15;

/** One panel: quiet lines, data in ink, rings in the hue of signals. */
export const PanelMarks = memo(function PanelMarks({
  panel,
  frame,
  x,
  y,
  ink,
  decimals,
  breaks,
  aside,
  pencil,
  selected,
  title,
  clips,
  marks: told,
}: Props) {
  const { points } = panel;
  const count = points.length;
  // A sample that is begun has fewer pieces, and limits of its own: wider ones.
  const ownLimits = pencil?.lower != null || pencil?.upper != null ? [pencil.lower, pencil.center, pencil.upper] : null;
  const half = Math.abs(x(1) - x(0)) / 2;
  const level = (get: (p: PanelPoint) => number | null | undefined) =>
    steps(count, (i) => points[i] && get(points[i]), x, y, breaks, pencil && ownLimits === null ? 1 : 0);
  const seen = points.flatMap((p, i) =>
    p.value == null ? [] : [{ i, at: [x(i), y(p.value)] as const, flagged: p.flagged }],
  );
  const counted = seen.filter((s) => !aside.has(s.i));
  const left = seen.filter((s) => aside.has(s.i));
  // The line looks past what is set aside, and breaks where nothing was measured.
  const along = points.flatMap(({ value }, i) => (aside.has(i) ? [] : [{ i, value }]));
  const data = line<(typeof along)[number]>()
    .defined((p) => p.value != null)
    .x((p) => x(p.i))
    .y((p) => y(p.value ?? 0));
  const last = seen[seen.length - 1];
  const crowded = count > 1 && x(1) - x(0) < 4;
  const chosen = selected === null ? undefined : seen.find((s) => s.i === selected);
  return (
    <g>
      <text x={frame.left + 4} y={frame.top - 5} fill={ink.line} fontSize={13} fontWeight={600}>
        {title}
      </text>
      <g clipPath={clips.plot}>
        {panel.zones.length > 0 && (
          <>
            <path d={bands(panel.zones, 0, x, y)} fill={ink.tint} opacity={0.035} />
            <path d={bands(panel.zones, 1, x, y)} fill={ink.tint} opacity={0.035} />
          </>
        )}
        <path d={level((p) => p.center)} fill="none" stroke={ink.line} strokeWidth={1.2} />
        <path d={level((p) => p.upper)} fill="none" stroke={ink.line} strokeWidth={1.4} strokeDasharray="7 4" />
        <path d={level((p) => p.lower)} fill="none" stroke={ink.line} strokeWidth={1.4} strokeDasharray="7 4" />
        {panel.beside && <BesideLines beside={panel.beside} frame={frame} y={y} ink={ink} />}
        <path d={data(along) ?? ''} fill="none" stroke={ink.data} strokeWidth={1.3} opacity={0.75} />
        {told === undefined ? (
          <path
            d={dots(
              counted.map((s) => s.at),
              crowded ? 1.4 : 3,
            )}
            fill={ink.data}
          />
        ) : (
          [...new Set(told)].map((mark) => {
            const at = counted.filter((s) => told[s.i] === mark).map((s) => s.at);
            return mark === null ? null : (
              <path
                key={mark}
                data-testid={`mark-${mark}`}
                d={marks(mark, at, crowded ? 3 : 4)}
                fill={isHollow(mark) ? ink.ground : ink.data}
                stroke={ink.data}
                strokeWidth={1.3}
              />
            );
          })
        )}
        {left.length > 0 && (
          <path
            d={crosses(
              left.map((s) => s.at),
              crowded ? 3 : 4,
            )}
            fill="none"
            stroke={ink.line}
            strokeWidth={1.4}
            opacity={0.8}
            data-testid={`aside-${panel.statistic}`}
          />
        )}
        <path
          d={dots(
            seen.filter((s) => s.flagged).map((s) => s.at),
            6.5,
          )}
          fill="none"
          stroke={ink.signal}
          strokeWidth={2}
        />
        {ownLimits?.map(
          (limit, i) =>
            limit != null && (
              <path
                key={i}
                d={`M${x(count) - half},${y(limit)}H${x(count) + half}`}
                stroke={ink.line}
                strokeWidth={i === 1 ? 1.2 : 1.4}
                strokeDasharray={i === 1 ? undefined : '3 2'}
              />
            ),
        )}
        {pencil?.value != null && (
          <PencilMark at={[x(count), y(pencil.value)]} from={last?.at} pencil={pencil} ink={ink} />
        )}
        {chosen && <circle cx={chosen.at[0]} cy={chosen.at[1]} r={9} fill="none" stroke={ink.data} strokeWidth={1.5} />}
      </g>
      <Gutter
        statistic={panel.statistic}
        points={points}
        pencil={pencil}
        frame={frame}
        y={y}
        ink={ink}
        decimals={decimals}
      />
    </g>
  );
});

/** Lines beside those that hold: fine dots, named at their left end. */
function BesideLines({
  beside,
  frame,
  y,
  ink,
}: {
  beside: Beside;
  frame: PanelFrame;
  y: ScaleLinear<number, number>;
  ink: ChartInk;
}) {
  const lines = [beside.upper, beside.center, beside.lower].filter((value) => value != null);
  const top = Math.max(...lines);
  return (
    <g opacity={0.9}>
      {lines.map((value) => (
        <path
          key={value}
          d={`M${frame.left},${y(value)}H${frame.right}`}
          stroke={ink.line}
          strokeDasharray="1 4"
          strokeWidth={1.6}
        />
      ))}
      {lines.length > 0 && (
        <text
          x={frame.left + 6}
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

function PencilMark({
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

/** Limits and the newest value at the right edge, where the newest point is. */
function Gutter({
  statistic,
  points,
  pencil,
  frame,
  y,
  ink,
  decimals,
}: {
  statistic: Panel['statistic'];
  points: readonly PanelPoint[];
  pencil: Pencil | undefined;
  frame: PanelFrame;
  y: ScaleLinear<number, number>;
  ink: ChartInk;
  decimals: number;
}) {
  const last = points[points.length - 1];
  if (!last) return null;
  const lines = [
    { name: 'UCL', value: last.upper },
    { name: 'CL', value: last.center },
    { name: 'LCL', value: last.lower },
  ].flatMap(({ name, value }) => (value == null ? [] : [{ name, value }]));
  const places = spread(
    lines.map((l) => y(l.value)),
    GUTTER_GAP,
  );
  const newest = pencil?.value ?? last.value;
  return (
    <g fontSize={13}>
      {lines.map((l, i) => (
        <text key={l.name} x={frame.right + 70} y={(places[i] ?? 0) + 4} fill={ink.line}>
          {l.name} {panelFigure(statistic, l.value, decimals)}
        </text>
      ))}
      {newest != null && (
        <g>
          <path d={`M${frame.right + 2},${y(newest)}h8`} stroke={ink.data} strokeWidth={1.5} />
          <text
            x={frame.right + 13}
            y={y(newest) + 5}
            fill={ink.data}
            fontWeight={700}
            fontSize={15}
            fontStyle={pencil?.value == null ? 'normal' : 'italic'}
          >
            {panelFigure(statistic, newest, decimals)}
          </text>
        </g>
      )}
    </g>
  );
}
