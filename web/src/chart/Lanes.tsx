import { useState } from 'react';
import type { ChartInk } from '../ui/theme';
import { CHART } from '../words/chart';
import { LIMITS_STATES } from '../words/limits';
import { cutAt, type Happening, type Ids, type Period, type Remark } from './model';

/** Phases with their names and the state of their limits. */
export function PeriodLane({
  periods,
  top,
  bottom,
  x,
  left,
  right,
  ink,
}: {
  periods: readonly Period[];
  top: number;
  bottom: number;
  x: (place: number) => number;
  left: number;
  right: number;
  ink: ChartInk;
}) {
  return (
    <g fontSize={13} fill={ink.line}>
      {periods.map((period) => {
        const from = Math.max(left, x(period.start - 0.5));
        const to = Math.min(right, x(period.end + 0.5));
        if (to - from < 1) return null;
        return (
          <g key={period.start}>
            {period.start > 0 && from > left && (
              <path d={`M${from},${top}V${bottom}`} stroke={ink.faint} strokeWidth={1.5} />
            )}
            <path
              d={`M${from + 1},${top + 16}H${to - 1}`}
              stroke={ink.line}
              strokeWidth={period.state === 'in_force' ? 2.5 : 1}
              strokeDasharray={period.state === 'trial' ? '3 3' : undefined}
            />
            {to - from > 90 && (
              <text x={from + 3} y={top + 11}>
                {CHART.period(period.name, period.state && LIMITS_STATES[period.state])}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

interface DiaryProps {
  ids: Ids;
  remarks: readonly Remark[];
  happenings: readonly Happening[];
  top: number;
  x: (place: number) => number;
  left: number;
  right: number;
  ink: ChartInk;
  /** What was said of a point leads to it. */
  onSelect: ((place: number) => void) | undefined;
}

/** The diary: notes on points and gaps, and what happened to the process between them; each says its words when it is
 * pointed at, tapped or reached by keys. */
export function DiaryLane({ remarks, happenings, top, x, left, right, ink, ids, onSelect }: DiaryProps) {
  const [told, setTold] = useState<string | null>(null);
  const entries = [
    ...happenings.map((one, i) => ({ ...one, key: `event-${i}`, event: true })),
    ...remarks.map((one, i) => ({ ...one, key: `remark-${i}`, event: false })),
  ].filter(({ place }) => x(place) >= left && x(place) <= right);
  const shown = entries.find(({ key }) => key === told);
  const toLeft = shown !== undefined && x(shown.place) > (left + right) / 2;
  return (
    <g clipPath={cutAt(ids.lanes)}>
      {entries.map(({ key, place, text, event }) => {
        const at = x(place);
        return (
          <g
            key={key}
            data-testid={event ? 'event' : 'remark'}
            role="button"
            tabIndex={0}
            aria-label={text}
            style={{ cursor: 'pointer', outlineOffset: 1 }}
            onPointerEnter={() => setTold(key)}
            onPointerLeave={() => setTold(null)}
            onFocus={() => setTold(key)}
            onBlur={() => setTold(null)}
            onClick={(click) => {
              click.stopPropagation();
              setTold(key);
              if (!event) onSelect?.(place);
            }}
            onKeyDown={(pressed) => {
              if (pressed.key === 'Enter' && !event) onSelect?.(place);
            }}
          >
            <rect x={at - 9} y={top - 5} width={18} height={22} fill="transparent" />
            {event ? (
              <path
                d={`M${at},${top - 2}v15M${at},${top - 1}l9,4l-9,4z`}
                fill={ink.line}
                stroke={ink.line}
                strokeWidth={1.3}
              />
            ) : (
              <>
                <path
                  d={`M${at - 5},${top}h10v10h-4l-3,4v-4h-3z`}
                  fill={ink.ground}
                  stroke={ink.line}
                  strokeWidth={1.3}
                />
                <path d={`M${at - 2.5},${top + 3.5}h5m-5,3h5`} stroke={ink.line} strokeWidth={1} />
              </>
            )}
          </g>
        );
      })}
      {shown && (
        <text
          aria-hidden
          data-testid="told"
          pointerEvents="none"
          x={x(shown.place) + (toLeft ? -14 : 14)}
          y={top + 10}
          textAnchor={toLeft ? 'end' : 'start'}
          fontSize={13}
          fill={ink.data}
          stroke={ink.ground}
          strokeWidth={6}
          paintOrder="stroke"
        >
          {shown.text}
        </text>
      )}
    </g>
  );
}
