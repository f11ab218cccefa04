/** Bars of the signal lane: which row each has, and where its wording stands. */

import { asks, type Span } from './model';

/** Rows of the signal lane at most: what the process did stays the picture, however much was said of it. */
export const ROWS_AT_MOST = 3;

/** A span with its row in the signal lane, and the side of the bar that its wording stands on, where there is room. */
export interface PlacedSpan extends Span {
  row: number;
  wording: 'before' | 'after' | 'none';
}

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
