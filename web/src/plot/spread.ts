/** Moves figures at an edge apart so that none covers another; order and rough place stay. */
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
