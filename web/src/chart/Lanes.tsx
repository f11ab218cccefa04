import type { SignalState } from '../api/client';
import type { ChartInk } from '../ui/theme';
import { CHART } from '../words/chart';
import { LIMITS_STATES } from '../words/limits';
import { STATES } from '../words/signals';
import type { Clips, Happening, Period, PlacedSpan, Remark } from './model';

export const ROW = 19;

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

/** What waits for somebody is solid; what is answered, or stands in review, is hatched. */
function fillOf(state: SignalState, ink: ChartInk, clips: Clips): string {
  switch (state) {
    case 'open':
    case 'sent_back':
      return ink.signal;
    case 'answered':
    case 'found_late':
      return `url(#${clips.hatch})`;
    case 'reviewed':
      return 'none';
  }
}

/** Each episode as a bar over exactly the points of its pattern, tied to them. */
export function SignalLane({
  spans,
  top,
  x,
  left,
  right,
  ink,
  tieTo,
  onOpen,
  clips,
}: {
  clips: Clips;
  spans: readonly PlacedSpan[];
  top: number;
  x: (place: number) => number;
  left: number;
  right: number;
  ink: ChartInk;
  tieTo: (span: PlacedSpan) => number;
  onOpen: ((id: string) => void) | undefined;
}) {
  return (
    <g clipPath={clips.lanes} fontSize={13}>
      <defs>
        <pattern id={clips.hatch} width={5} height={5} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0,0V5" stroke={ink.signal} strokeWidth={3} />
        </pattern>
      </defs>
      {spans.map((span) => {
        const from = x(span.from) - 4;
        const to = x(span.to) + 4;
        if (to < left || from > right) return null;
        const y = top + span.row * ROW;
        const { label } = span;
        const after = span.wording === 'after';
        return (
          <g
            key={span.id}
            role={onOpen ? 'link' : undefined}
            tabIndex={onOpen ? 0 : undefined}
            aria-label={CHART.episode(STATES[span.state], label)}
            style={onOpen ? { cursor: 'pointer' } : undefined}
            onClick={() => onOpen?.(span.id)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') onOpen?.(span.id);
            }}
          >
            <path d={`M${x(span.to)},${y}V${tieTo(span)}`} stroke={ink.signal} strokeWidth={0.8} opacity={0.55} />
            <rect x={from} y={y - 4} width={Math.max(24, to - from)} height={ROW + 2} fill="transparent" />
            <rect
              x={from}
              y={y}
              width={to - from}
              height={9}
              stroke={ink.signal}
              strokeWidth={1.4}
              fill={fillOf(span.state, ink, clips)}
            />
            <text x={after ? to + 6 : from - 6} textAnchor={after ? 'start' : 'end'} y={y + 9} fill={ink.data}>
              {label}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** The diary: notes on points and gaps, and what happened to the process between them. */
export function DiaryLane({
  remarks,
  happenings,
  top,
  x,
  left,
  right,
  ink,
  clips,
}: {
  clips: Clips;
  remarks: readonly Remark[];
  happenings: readonly Happening[];
  top: number;
  x: (place: number) => number;
  left: number;
  right: number;
  ink: ChartInk;
}) {
  return (
    <g clipPath={clips.lanes}>
      {happenings.map((event, i) => {
        const at = x(event.place);
        if (at < left || at > right) return null;
        return (
          <g key={`event-${i}`} data-testid="event">
            <path
              d={`M${at},${top - 2}v15M${at},${top - 1}l9,4l-9,4z`}
              fill={ink.line}
              stroke={ink.line}
              strokeWidth={1.3}
            />
            <title>{event.text}</title>
          </g>
        );
      })}
      {remarks.map((remark, i) => {
        const at = x(remark.point);
        if (at < left || at > right) return null;
        return (
          <g key={i}>
            <path d={`M${at - 5},${top}h10v10h-4l-3,4v-4h-3z`} fill={ink.ground} stroke={ink.line} strokeWidth={1.3} />
            <path d={`M${at - 2.5},${top + 3.5}h5m-5,3h5`} stroke={ink.line} strokeWidth={1} />
            <title>{remark.text}</title>
          </g>
        );
      })}
    </g>
  );
}
