/** Marks as paths: drawing thousands as one path costs no more than drawing one. */

export type Point = readonly [x: number, y: number];

const f = (x: number) => x.toFixed(1);

/** Dots about points. */
export function dots(points: readonly Point[], radius: number): string {
  const r = radius;
  return points
    .map(([cx, cy]) => `M${f(cx - r)},${f(cy)}a${r},${r} 0 1,0 ${2 * r},0a${r},${r} 0 1,0 ${-2 * r},0`)
    .join('');
}

/** Crosses over points. */
export function crosses(points: readonly Point[], radius: number): string {
  const r = radius;
  return points
    .map(([cx, cy]) => `M${f(cx - r)},${f(cy - r)}l${2 * r},${2 * r}m0,${-2 * r}l${-2 * r},${2 * r}`)
    .join('');
}

/** A line from point to point, broken where there is none. */
export function brokenLine(points: readonly (Point | null)[]): string {
  let path = '';
  let drawing = false;
  for (const point of points) {
    if (point !== null) path += `${drawing ? 'L' : 'M'}${f(point[0])},${f(point[1])}`;
    drawing = point !== null;
  }
  return path;
}

/** A level from one edge to another. */
export interface Level {
  from: number;
  to: number;
  y: number;
  /** It goes on from the level before, without a gap. */
  joins: boolean;
}

/** Levels as one line that steps from each to the next where they join. */
export function steps(levels: readonly Level[]): string {
  return levels.map(({ from, to, y, joins }) => `${joins ? `V${f(y)}` : `M${f(from)},${f(y)}`}H${f(to)}`).join('');
}

/** Rectangles. */
export function boxes(all: readonly { from: number; to: number; top: number; bottom: number }[]): string {
  return all.map(({ from, to, top, bottom }) => `M${f(from)},${f(top)}H${f(to)}V${f(bottom)}H${f(from)}Z`).join('');
}
