/** A panel as levels, boxes and points on the screen. */

import { extent } from '../plot/extent';
import type { Level } from '../plot/marks';
import type { Lines, Panel, Pencil, Trace, Zones } from './model';

/** Which marks are on the screen. */
export interface Seen {
  from: number;
  to: number;
}

const within = <T extends { from: number; to: number }>(all: readonly T[], seen: Seen) =>
  all.filter(({ from, to }) => to >= seen.from && from <= seen.to);

/** One of the lines of a panel as levels; `edges` are those between marks, in pixels. */
export function levels(
  lines: readonly Lines[],
  seen: Seen,
  value: (lines: Lines) => number | null | undefined,
  edges: readonly number[],
  y: (value: number) => number,
  /** Marks that a phase begins with. */
  breaks: ReadonlySet<number>,
  /** How far the last one reaches on. */
  tail = 0,
): Level[] {
  const last = edges.length - 2;
  const found: Level[] = [];
  let before: Lines | undefined;
  for (const here of within(lines, seen)) {
    const v = value(here);
    if (v == null) continue;
    const joins = before !== undefined && before.to + 1 === here.from && !breaks.has(here.from);
    found.push({
      from: edges[here.from] ?? 0,
      to: (edges[here.to + 1] ?? 0) + (here.to === last ? tail : 0),
      y: y(v),
      joins,
    });
    before = here;
  }
  return found;
}

/** The band between two edges of the zones. */
export function bands(
  zones: readonly Zones[],
  seen: Seen,
  low: 0 | 1,
  edges: readonly number[],
  y: (value: number) => number,
) {
  return within(zones, seen).flatMap(({ from, to, edges: at }) => {
    const [bottom, top] = [at[low], at[3 - low]];
    if (bottom === undefined || top === undefined) return [];
    return [{ from: edges[from] ?? 0, to: edges[to + 1] ?? 0, top: y(top), bottom: y(bottom) }];
  });
}

/** What a panel reaches over: what was said, or all that it shows. */
export function reach(panel: Panel, pencil: Pencil | undefined): [low: number, high: number] {
  if (panel.scale) return [...panel.scale];
  return extent([
    ...panel.value,
    ...panel.lines.flatMap(({ lower, center, upper }) => [lower, center, upper]),
    ...(panel.range ?? []),
    panel.beside?.lower,
    panel.beside?.center,
    panel.beside?.upper,
    pencil?.value,
    pencil?.lower,
    pencil?.upper,
  ]);
}

/** Lowest and highest of all traces. */
export function traceReach(traces: readonly Trace[]): [low: number, high: number] {
  const [low, high] = extent(
    traces.flatMap(({ values }) => values),
    0,
  );
  return low < high ? [low, high] : [low - 1, high + 1];
}
