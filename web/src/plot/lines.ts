import { curveLinear, line } from 'd3-shape';

/** A line through values, as a path; where one is missing it breaks. */
export function through(
  xs: readonly number[],
  ys: readonly number[],
  x: (value: number) => number,
  y: (value: number) => number,
): string {
  const path = line<number>()
    .defined((i) => Number.isFinite(xs[i]) && Number.isFinite(ys[i]))
    .x((i) => x(xs[i] ?? 0))
    .y((i) => y(ys[i] ?? 0))
    .curve(curveLinear)
    .digits(1);
  return path(xs.map((_, i) => i)) ?? '';
}
