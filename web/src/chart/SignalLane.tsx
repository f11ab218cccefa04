import { useState } from 'react';
import type { SignalState } from '../api/client';
import type { ChartInk } from '../ui/theme';
import { CHART } from '../words/chart';
import { STATES } from '../words/signals';
import { ROW } from './layout';
import { asks, cutAt, type Ids } from './model';
import type { PlacedSpan } from './spans';

/** How far a bar reaches beyond its points. */
export const BAR_AIR = 4;

/** What waits for somebody is solid; what is answered, or stands in review, is hatched. */
function fillOf(state: SignalState, ink: ChartInk, ids: Ids): string {
  switch (state) {
    case 'open':
    case 'sent_back':
      return ink.signal;
    case 'answered':
    case 'found_late':
      return cutAt(ids.hatch);
    case 'reviewed':
      return 'none';
  }
}

/**
 * Each episode as a bar over exactly the points of its pattern. What asks, what is pointed at, and what holds the
 * selected point is tied to its points; its wording shows even where there is no room for all of them.
 */
export function SignalLane({
  spans,
  top,
  x,
  left,
  right,
  ink,
  tieTo,
  selected,
  letter,
  onOpen,
  ids,
}: {
  ids: Ids;
  spans: readonly PlacedSpan[];
  top: number;
  x: (place: number) => number;
  left: number;
  right: number;
  ink: ChartInk;
  tieTo: (span: PlacedSpan) => number;
  /** Place of the selected point. */
  selected: number | null;
  /** Width of a letter, about. */
  letter: number;
  onOpen: ((id: string) => void) | undefined;
}) {
  const [pointed, setPointed] = useState<string | null>(null);
  const isChosen = ({ id, from, to }: PlacedSpan) =>
    id === pointed || (selected !== null && selected >= from && selected <= to);
  // In the order of the points, as they are gone through by keys.
  const seen = spans
    .filter((span) => x(span.to) + BAR_AIR >= left && x(span.from) - BAR_AIR <= right)
    .sort((a, b) => a.from - b.from || a.at - b.at);
  const wordingOf = (span: PlacedSpan, side: 'before' | 'after') => {
    const at = side === 'after' ? x(span.to) + BAR_AIR + 6 : x(span.from) - BAR_AIR - 6;
    return { x: at, y: top + span.row * ROW + 9, textAnchor: side === 'after' ? 'start' : 'end' } as const;
  };
  return (
    <g clipPath={cutAt(ids.lanes)} fontSize={13}>
      <defs>
        <pattern id={ids.hatch} width={5} height={5} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0,0V5" stroke={ink.signal} strokeWidth={3} />
        </pattern>
      </defs>
      {seen.map((span) => {
        const { id, label, row, state, wording } = span;
        const from = x(span.from) - BAR_AIR;
        const width = x(span.to) + BAR_AIR - from;
        const y = top + row * ROW;
        return (
          <g
            key={id}
            role={onOpen ? 'link' : 'img'}
            tabIndex={onOpen ? 0 : undefined}
            aria-label={onOpen ? CHART.episode(STATES[state], label) : label}
            style={onOpen ? { cursor: 'pointer' } : undefined}
            onPointerEnter={() => setPointed(id)}
            onPointerLeave={() => setPointed(null)}
            onFocus={() => setPointed(id)}
            onBlur={() => setPointed(null)}
            onClick={() => onOpen?.(id)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') onOpen?.(id);
            }}
          >
            {(asks(span) || isChosen(span)) && (
              <path d={`M${x(span.to)},${y}V${tieTo(span)}`} stroke={ink.signal} strokeWidth={0.8} opacity={0.55} />
            )}
            <rect x={from} y={y - 4} width={Math.max(24, width)} height={ROW + 2} fill="transparent" />
            <rect
              x={from}
              y={y}
              width={width}
              height={9}
              stroke={ink.signal}
              strokeWidth={1.4}
              fill={fillOf(state, ink, ids)}
            />
            {wording !== 'none' && (
              <text {...wordingOf(span, wording)} fill={ink.data}>
                {label}
              </text>
            )}
          </g>
        );
      })}
      <g aria-hidden pointerEvents="none" paintOrder="stroke" stroke={ink.ground} strokeWidth={6} fill={ink.data}>
        {seen
          .filter((span) => span.wording === 'none' && isChosen(span))
          .map((span) => {
            const fits = x(span.to) + BAR_AIR + 6 + span.label.length * letter <= right;
            return (
              <text key={span.id} {...wordingOf(span, fits ? 'after' : 'before')}>
                {span.label}
              </text>
            );
          })}
      </g>
    </g>
  );
}
