import type { RoundStation, Stop } from '../../api/client';
import type { Waiting } from '../../outbox/store';

const WEIGHT = { overdue: 0, due: 1, done: 2 } as const;

/** The most urgent first: overdue longest, then due, then what is due next. */
export function urgency(a: Stop, b: Stop): number {
  const time = (stop: Stop) => (stop.due_at == null ? Infinity : Date.parse(stop.due_at));
  return WEIGHT[a.state] - WEIGHT[b.state] || (time(a) < time(b) ? -1 : Number(time(a) > time(b)));
}

export interface Round {
  areas: string[];
  /** Stations of the chosen area, pinned ones first. */
  stations: RoundStation[];
  /** Their stops, the most urgent first. */
  stops: { stop: Stop; station: string }[];
  /** What to sample next. */
  next: Stop | undefined;
}

/** A round through an area, or through the whole site. */
export function roundOf(all: readonly RoundStation[], area: string | null, waits: ReadonlyMap<string, number>): Round {
  const within = all.filter((s) => area === null || s.area === area);
  const stations = [...within.filter((s) => s.pinned), ...within.filter((s) => !s.pinned)];
  const stops = stations
    .flatMap((s) => s.characteristics.map((stop) => ({ stop, station: s.name })))
    .sort((a, b) => urgency(a.stop, b.stop));
  // What was entered on this device is not asked for again, though the server does not know it yet.
  const next = stops.find(({ stop }) => stop.state !== 'done' && !waits.has(stop.id))?.stop;
  return { areas: [...new Set(all.map((s) => s.area))].sort(), stations, stops, next };
}

/** How many samples of each characteristic wait on this device. */
export function waitsOf(waiting: readonly Waiting[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (const { deed } of waiting) {
    if (deed.what !== 'event') counts.set(deed.target, (counts.get(deed.target) ?? 0) + 1);
  }
  return counts;
}
