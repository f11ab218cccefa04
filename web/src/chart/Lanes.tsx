import type { ChartInk } from '../ui/theme';
import { CHART } from '../words/chart';
import { LIMITS_STATES } from '../words/limits';
import type { Clips, Happening, Period, Remark } from './model';

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
