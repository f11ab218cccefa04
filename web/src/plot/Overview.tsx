import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import type { Window } from './places';

const HEIGHT = 44;
/** How near to an edge the hand takes hold of it. */
const GRIP = 12;

interface Props {
  width: number;
  left: number;
  right: number;
  /** All that there is, as one line in a frame of this height. */
  outline: (top: number, bottom: number) => string;
  /** Bars over what asks to be looked at, by pixels. */
  bars: readonly { from: number; to: number }[];
  /** What is seen, in pixels; nothing where all is. */
  seen: { from: number; to: number } | null;
  placeAt: (x: number) => number;
  onWindow: (window: Window) => void;
  ink: { data: string; line: string; faint: string; tint: string; signal: string };
  label: string;
  /** What is seen, in words. */
  says: string;
  panBy: (share: number) => void;
}

/** All of an axis as a strip, with the part that is seen: it is dragged, and its edges are. */
export function Overview({
  width,
  left,
  right,
  outline,
  bars,
  seen,
  placeAt,
  onWindow,
  ink,
  label,
  says,
  panBy,
}: Props) {
  const held = useRef<{ part: 'from' | 'to' | 'whole'; at: number; seen: { from: number; to: number } } | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const shown = seen ?? { from: left, to: right };
  const xOf = (event: PointerEvent) => event.clientX - (svg.current?.getBoundingClientRect().left ?? 0);
  const show = (from: number, to: number) => {
    const width = Math.min(right - left, Math.max(6, to - from));
    const begin = Math.min(right - width, Math.max(left, from));
    onWindow({ from: placeAt(begin), to: placeAt(begin + width) });
  };
  const onPointerDown = (event: PointerEvent) => {
    const at = xOf(event);
    event.currentTarget.setPointerCapture(event.pointerId);
    const part = Math.abs(at - shown.from) < GRIP ? 'from' : Math.abs(at - shown.to) < GRIP ? 'to' : ('whole' as const);
    if (part === 'whole' && (at < shown.from || at > shown.to)) {
      const half = (shown.to - shown.from) / 2;
      held.current = { part, at, seen: { from: at - half, to: at + half } };
      show(at - half, at + half);
    } else held.current = { part, at, seen: shown };
  };
  const onPointerMove = (event: PointerEvent) => {
    if (!held.current) return;
    const { part, at, seen: began } = held.current;
    const by = xOf(event) - at;
    if (part === 'whole') show(began.from + by, began.to + by);
    else if (part === 'from') show(Math.max(left, Math.min(began.to - 6, began.from + by)), began.to);
    else show(began.from, Math.min(right, Math.max(began.from + 6, began.to + by)));
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -0.1, ArrowRight: 0.1, PageUp: -0.5, PageDown: 0.5 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    panBy(by);
  };
  return (
    <svg
      ref={svg}
      width={width}
      height={HEIGHT}
      role="slider"
      aria-label={label}
      aria-orientation="horizontal"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(((shown.from - left) / Math.max(1, right - left)) * 100)}
      aria-valuetext={says}
      tabIndex={0}
      data-testid="overview"
      // On paper nothing is moved along.
      className="on-screen"
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={() => (held.current = null)}
      onPointerCancel={() => (held.current = null)}
      onKeyDown={onKeyDown}
      style={{ display: 'block', touchAction: 'none', cursor: seen ? 'grab' : 'default', outlineOffset: 2 }}
    >
      <path d={`M${left},${HEIGHT - 0.5}H${right}M${left},6.5H${right}`} stroke={ink.faint} />
      <path d={outline(10, HEIGHT - 5)} fill="none" stroke={ink.line} strokeWidth={1} opacity={0.8} />
      {bars.map(({ from, to }) => (
        <path key={`${from}-${to}`} d={`M${from},3.5H${Math.max(to, from + 3)}`} stroke={ink.signal} strokeWidth={3} />
      ))}
      {seen && (
        <>
          <path
            d={`M${left},7H${shown.from}V${HEIGHT - 1}H${left}ZM${shown.to},7H${right}V${HEIGHT - 1}H${shown.to}Z`}
            fill={ink.tint}
            opacity={0.14}
          />
          <path d={`M${shown.from},7V${HEIGHT - 1}M${shown.to},7V${HEIGHT - 1}`} stroke={ink.data} strokeWidth={2} />
        </>
      )}
    </svg>
  );
}
