/** A number as typed, with point or comma; nothing where nothing is typed, NaN where it is none. */
export function number(typed: string): number | null {
  const trimmed = typed.trim().replace('−', '-').replace(',', '.');
  return trimmed === '' ? null : Number(trimmed);
}
