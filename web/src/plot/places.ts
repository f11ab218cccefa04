/** Places on an axis of things that follow one another, and the marks that stand on some of them. */

/** How many of the ascending numbers lie before `x`. */
export function before(ascending: readonly number[], x: number): number {
  let [low, high] = [0, ascending.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((ascending[middle] ?? Infinity) < x) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The mark nearest to a place; nothing where there is no mark. */
export function nearest(places: readonly number[], place: number): number | null {
  if (places.length === 0) return null;
  const after = Math.min(before(places, place), places.length - 1);
  const [at, earlier] = [places[after] ?? 0, places[after - 1]];
  return earlier !== undefined && place - earlier < at - place ? after - 1 : after;
}

/** The edges that marks share: halfway to the next one, half a place beyond the first and the last. */
export function edges(places: readonly number[]): number[] {
  const [first, last] = [places[0], places[places.length - 1]];
  if (first === undefined || last === undefined) return [];
  return [first - 0.5, ...places.slice(1).map((place, i) => ((places[i] ?? place) + place) / 2), last + 0.5];
}

/** The marks between two edges of a frame, and one more on either side. */
export function marksBetween(
  place: readonly number[],
  placeAt: (x: number) => number,
  left: number,
  right: number,
): { from: number; to: number } {
  const from = Math.max(0, before(place, placeAt(left)) - 1);
  return { from, to: Math.min(place.length - 1, before(place, placeAt(right)) + 1) };
}

/** Part of an axis, in places. */
export interface Window {
  from: number;
  to: number;
}

/** Whether two windows are one to the eye. */
export function same(a: Window | null, b: Window | null): boolean {
  if (a === null || b === null) return a === b;
  const near = (x: number, y: number) => Math.abs(x - y) < Math.max(0.5, (a.to - a.from) / 500);
  return near(a.from, b.from) && near(a.to, b.to);
}
