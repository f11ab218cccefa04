/** Outlines of marks that are told apart, about a point, by how far they reach. */
const SHAPES: readonly ((cx: number, cy: number, r: number) => string)[] = [
  (cx, cy, r) => `M${cx - r},${cy}a${r},${r} 0 1,0 ${2 * r},0a${r},${r} 0 1,0 ${-2 * r},0z`,
  (cx, cy, r) => `M${cx},${cy - 1.2 * r}l${1.2 * r},${2.1 * r}h${-2.4 * r}z`,
  (cx, cy, r) => `M${cx - 0.9 * r},${cy - 0.9 * r}h${1.8 * r}v${1.8 * r}h${-1.8 * r}z`,
  (cx, cy, r) => `M${cx},${cy + 1.2 * r}l${1.2 * r},${-2.1 * r}h${-2.4 * r}z`,
  (cx, cy, r) => `M${cx},${cy - 1.3 * r}l${1.1 * r},${1.3 * r}l${-1.1 * r},${1.3 * r}l${-1.1 * r},${-1.3 * r}z`,
  (cx, cy, r) => `M${cx - 0.5 * r},${cy - 1.3 * r}h${r}v${2.6 * r}h${-r}z`,
];

/** Those beyond the first six have the same shapes, hollow. */
export const isHollow = (mark: number) => mark >= SHAPES.length;

/** All marks of one kind as one path. */
export function shapes(mark: number, places: readonly (readonly [number, number])[], radius: number): string {
  const shape = SHAPES[mark % SHAPES.length];
  return shape ? places.map(([cx, cy]) => shape(Number(cx.toFixed(1)), Number(cy.toFixed(1)), radius)).join('') : '';
}
