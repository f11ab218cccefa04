/** What the chart draws. It knows points and signals, no screens and no network. */

import type { LimitsState, SignalState, Statistic } from '../api/client';

export interface PanelPoint {
  value?: number | null;
  center?: number | null;
  lower?: number | null;
  upper?: number | null;
  sigma?: number | null;
  flagged: boolean;
}

/** Points that share the edges of their zones. */
export interface Zones {
  from: number;
  to: number;
  edges: readonly number[];
}

export interface Panel {
  statistic: Statistic;
  points: readonly PanelPoint[];
  zones: readonly Zones[];
  /** What it has to reach over at least, as other charts beside it do. */
  range?: readonly [number, number] | undefined;
  /** Lines beside those that hold, as trial limits beside revised ones. */
  beside?: Beside | undefined;
}

export interface Beside {
  name: string;
  lower?: number | null;
  center?: number | null;
  upper?: number | null;
}

export interface Period {
  start: number;
  end: number;
  name: string;
  /** Nothing where limits are only looked at. */
  state: LimitsState | null;
}

/** What parts of a chart are cut off at; of each chart its own. */
export interface Clips {
  plot: string;
  lanes: string;
  /** Id of the pattern of signals that were answered. */
  hatch: string;
}

/** An episode: what its points did, in words, from its first point to its last. */
export interface Span {
  id: string;
  label: string;
  /** The panel of its most telling rule. */
  panel: Statistic;
  from: number;
  at: number;
  to: number;
  state: SignalState;
}

export interface Remark {
  point: number;
  text: string;
}

/** Something that happened to the process, between two places. */
export interface Happening {
  /** Where on the axis: halfway between points. */
  place: number;
  text: string;
}

/** A reference component beside the judged value, one value a sample. */
export interface Trace {
  name: string;
  values: readonly (number | null)[];
}

/** A point that is typed but not saved, on one panel. */
export interface Pencil {
  statistic: Statistic;
  value?: number | null;
  flagged: boolean;
  /** Lines of this point: with fewer pieces they are wider. */
  center?: number | null | undefined;
  lower?: number | null | undefined;
  upper?: number | null | undefined;
}

export interface ChartModel {
  title: string;
  decimals: number;
  unit: string;
  /** What a panel shows. */
  panelTitle: (statistic: Statistic) => string;
  /** Number and time of each sample. */
  samples: readonly { number: number; taken_at: string }[];
  /** Points left out of limits and rules. */
  aside: ReadonlySet<number>;
  /** Where rules start afresh. */
  restarts: readonly number[];
  panels: readonly Panel[];
  traces: readonly Trace[];
  periods: readonly Period[];
  /** The value of a tag that each point has, by number, where marks tell them apart. */
  marks?: readonly (number | null)[] | undefined;
  spans: readonly Span[];
  remarks: readonly Remark[];
  happenings: readonly Happening[];
}

/** Rows of the signal lane at most: what the process did stays the picture, however much was said of it. */
export const ROWS_AT_MOST = 3;

/** A span with its row in the signal lane, and the side of the bar that its wording stands on, where there is room. */
export interface PlacedSpan extends Span {
  row: number;
  wording: 'before' | 'after' | 'none';
}

/** Somebody has to say something about it. */
export const asks = ({ state }: Span) => state === 'open' || state === 'sent_back';

type Taken = readonly [number, number];
const isFree = (row: readonly Taken[], [from, to]: Taken) => row.every(([start, end]) => to < start || end < from);

interface Room {
  /** Width of the wording of a span, in points. */
  room: (span: Span) => number;
  /** The wording stands behind the bar unless it would reach beyond this. */
  last: number;
  /** What a bar reaches beyond its points. */
  air: number;
}

const barOf = ({ from, to }: Span, { air }: Room): Taken => [from - air, to + air];
const sideOf = (span: Span, { room, last }: Room) => (span.to + room(span) <= last ? 'after' : 'before');

function wordedOf(span: Span, all: Room): Taken {
  const [from, to] = barOf(span, all);
  return sideOf(span, all) === 'after'
    ? [from, Math.max(to, span.to + all.room(span))]
    : [Math.min(from, span.from - all.room(span)), to];
}

/**
 * Rows so that no bar, nor the wording beside it, covers another. Where `most` rows are too few for that, bars are dealt
 * out over them, and wording stands where it covers none, first that of what asks; only where no row has room for a bar
 * do bars lie over each other. `room` is the width of the wording in points; it stands behind the bar unless it would
 * reach beyond `last`. `air` is what a bar reaches beyond its points.
 */
export function stack(
  spans: readonly Span[],
  room: (span: Span) => number,
  last: number,
  { most = ROWS_AT_MOST, air = 0 }: { most?: number; air?: number } = {},
): PlacedSpan[] {
  const all: Room = { room, last, air };
  const ordered = [...spans].sort((a, b) => a.from - b.from || a.at - b.at);
  return worded(ordered, all, most) ?? dealt(ordered, all, most);
}

/** All with their wording, each in the first row that is free; nothing where the rows are too few. */
function worded(spans: readonly Span[], all: Room, most: number): PlacedSpan[] | null {
  const rows: Taken[][] = Array.from({ length: most }, () => []);
  const placed: PlacedSpan[] = [];
  for (const span of spans) {
    const taken = wordedOf(span, all);
    const row = rows.findIndex((row) => isFree(row, taken));
    if (row === -1) return null;
    rows[row]?.push(taken);
    placed.push({ ...span, row, wording: sideOf(span, all) });
  }
  return placed;
}

/** Bars by turns, so that neighbours leave each other room, then as much wording as covers nothing. */
function dealt(spans: readonly Span[], all: Room, most: number): PlacedSpan[] {
  const rows: Taken[][] = Array.from({ length: most }, () => []);
  const placed: PlacedSpan[] = spans.map((span, i) => {
    const bar = barOf(span, all);
    const turns = rows.map((_, turn) => (i + turn) % most);
    const row = turns.find((row) => isFree(rows[row] ?? [], bar)) ?? i % most;
    rows[row]?.push(bar);
    return { ...span, row, wording: 'none' };
  });
  for (const span of [...placed].sort((a, b) => Number(asks(b)) - Number(asks(a)))) {
    const row = rows[span.row] ?? [];
    const [bar, taken] = [barOf(span, all), wordedOf(span, all)];
    // Its own bar is there already.
    const wording: Taken = sideOf(span, all) === 'after' ? [bar[1] + 1e-9, taken[1]] : [taken[0], bar[0] - 1e-9];
    if (!isFree(row, wording)) continue;
    row.push(wording);
    span.wording = sideOf(span, all);
  }
  return placed;
}

/** Lowest and highest of everything that a panel shows, with a little air. */
export function extent(panel: Panel, pencil: readonly (number | null | undefined)[]): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  const see = (x: number | null | undefined) => {
    if (x == null) return;
    low = Math.min(low, x);
    high = Math.max(high, x);
  };
  for (const point of panel.points) [point.value, point.lower, point.upper, point.center].forEach(see);
  [panel.beside?.lower, panel.beside?.center, panel.beside?.upper].forEach(see);
  panel.range?.forEach(see);
  pencil.forEach(see);
  if (low > high) return [0, 1];
  const air = (high - low || Math.abs(high) || 1) * 0.08;
  return [low - air, high + air];
}

/** Lowest and highest of all traces. */
export function traceExtent(traces: readonly Trace[]): [number, number] {
  const all = traces.flatMap(({ values }) => values.filter((value) => value !== null));
  if (all.length === 0) return [0, 1];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  return low < high ? [low, high] : [low - 1, high + 1];
}

/** A light line from value to value, broken where there is none. */
export function tracePath(
  values: readonly (number | null)[],
  x: (place: number) => number,
  y: (value: number) => number,
): string {
  return values
    .map((value, i) =>
      value === null ? '' : `${i > 0 && values[i - 1] !== null ? 'L' : 'M'}${x(i).toFixed(1)},${y(value).toFixed(1)}`,
    )
    .join('');
}

/** A line that steps from point to point, broken where there is no value; `tail` places longer at its end. */
export function steps(
  count: number,
  value: (i: number) => number | null | undefined,
  x: (place: number) => number,
  y: (value: number) => number,
  breaks: ReadonlySet<number>,
  tail = 0,
): string {
  let path = '';
  let drawing = false;
  for (let i = 0; i < count; i++) {
    const v = value(i);
    if (v == null) {
      drawing = false;
      continue;
    }
    const level = y(v).toFixed(1);
    path += drawing && !breaks.has(i) ? `V${level}` : `M${x(i - 0.5).toFixed(1)},${level}`;
    path += `H${x(i + 0.5 + (i === count - 1 ? tail : 0)).toFixed(1)}`;
    drawing = true;
  }
  return path;
}

/** The band between two edges of the zones, one rectangle a stretch of equal ones. */
export function bands(
  zones: readonly Zones[],
  low: 0 | 1,
  x: (place: number) => number,
  y: (value: number) => number,
): string {
  return zones
    .map(({ from, to, edges }) => {
      const [bottom, top] = [edges[low], edges[3 - low]];
      if (bottom === undefined || top === undefined) return '';
      return `M${x(from - 0.5).toFixed(1)},${y(top).toFixed(1)}H${x(to + 0.5).toFixed(1)}V${y(bottom).toFixed(1)}H${x(from - 0.5).toFixed(1)}Z`;
    })
    .join('');
}

/** All markers as one path: drawing thousands of points then costs no more than one. */
export function dots(places: readonly (readonly [number, number])[], radius: number): string {
  const r = radius;
  return places
    .map(
      ([cx, cy]) => `M${(cx - r).toFixed(1)},${cy.toFixed(1)}a${r},${r} 0 1,0 ${2 * r},0a${r},${r} 0 1,0 ${-2 * r},0`,
    )
    .join('');
}

/** All crosses as one path: over points that are set aside. */
export function crosses(places: readonly (readonly [number, number])[], radius: number): string {
  const r = radius;
  return places
    .map(
      ([cx, cy]) => `M${(cx - r).toFixed(1)},${(cy - r).toFixed(1)}l${2 * r},${2 * r}m0,${-2 * r}l${-2 * r},${2 * r}`,
    )
    .join('');
}

/** Moves figures at the right edge apart so that none covers another; order and rough place stay. */
export function spread(wanted: readonly number[], gap: number): number[] {
  const order = wanted.map((y, i) => ({ y, i })).sort((a, b) => a.y - b.y);
  for (let k = 1; k < order.length; k++) {
    const [above, here] = [order[k - 1], order[k]];
    if (above && here) here.y = Math.max(here.y, above.y + gap);
  }
  const placed = [...wanted];
  for (const { y, i } of order) placed[i] = y;
  return placed;
}
