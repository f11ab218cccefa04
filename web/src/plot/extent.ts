/** Lowest and highest of figures, with a little air; where there are none, from 0 to 1. */
export function extent(figures: Iterable<number | null | undefined>, air = 0.08): [low: number, high: number] {
  let [low, high] = [Infinity, -Infinity];
  for (const x of figures) {
    if (x == null) continue;
    low = Math.min(low, x);
    high = Math.max(high, x);
  }
  if (low > high) return [0, 1];
  const beyond = (high - low || Math.abs(high) || 1) * air;
  return [low - beyond, high + beyond];
}
