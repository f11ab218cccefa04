/** A selection as an address says it. */

import type { Selection, Split } from '../../api/client';
import { daysIn, idsIn } from '../../ui/address';
import { numberOf } from '../../words/numbers';
import { dayOf } from '../../words/time';

/** Tags that narrow, as `tag.mould=M1`. */
const TAG = 'tag.';

/** The selection that an address names; nothing where it names no characteristic. */
export function selectionIn(params: URLSearchParams): Selection | null {
  const { of: characteristic, phase } = idsIn(params, ['of', 'phase']);
  if (characteristic === undefined) return null;
  const { after: since, until } = daysIn(params, ['after', 'until']);
  const last = whole(params.get('last'));
  const tags = Object.fromEntries(
    [...params].filter(([name]) => name.startsWith(TAG)).map(([name, value]) => [name.slice(TAG.length), [value]]),
  );
  return {
    characteristic,
    set_aside: params.get('aside') === '1',
    ...(Object.keys(tags).length > 0 && { tags }),
    ...(phase !== undefined && { phase }),
    ...(since !== undefined && { since }),
    ...(until !== undefined && { until }),
    ...(last !== null && { last }),
  };
}

/** The address that names a selection. */
export function selectionAddress(of: Selection): URLSearchParams {
  const params = new URLSearchParams({ of: of.characteristic });
  put(params, {
    last: of.last,
    phase: of.phase,
    after: of.since && dayOf(of.since),
    until: of.until && dayOf(of.until),
    aside: of.set_aside ? 1 : null,
  });
  for (const [name, [value]] of Object.entries(of.tags ?? {})) if (value !== undefined) params.set(TAG + name, value);
  return params;
}

/** Writes what there is. */
export function put(params: URLSearchParams, given: Record<string, string | number | null | undefined>): void {
  for (const [name, value] of Object.entries(given)) if (value != null) params.set(name, String(value));
}

/** The same address for another characteristic: what belongs to the one before is left behind. */
export function ofAnother(params: URLSearchParams, characteristic: string): Record<string, string | null> {
  const bound = [...params.keys()].filter((name) => name.startsWith(TAG) || ['phase', 'study'].includes(name));
  return { ...Object.fromEntries(bound.map((name) => [name, null])), of: characteristic };
}

export const tagParam = (name: string) => TAG + name;

/** `phase`, `week`, or `tag.mould`. */
export function splitIn(params: URLSearchParams): Split | null {
  const by = params.get('by');
  if (by === null) return null;
  if (by.startsWith(TAG)) return { by: 'tag', name: by.slice(TAG.length) };
  const known = (['phase', 'day', 'week', 'month', 'shift'] as const).find((name) => name === by);
  return known ? { by: known } : null;
}

export const byOf = (split: Split): string => (split.by === 'tag' ? TAG + split.name : split.by);

export function whole(text: string | null): number | null {
  return text !== null && /^\d{1,6}$/.test(text) ? Number(text) : null;
}

/** A number that an address names. */
export function numberIn(params: URLSearchParams, name: string): number | null {
  const typed = numberOf(params.get(name) ?? '');
  return Number.isFinite(typed) ? typed : null;
}

/** An address within an address, as `set1`, `set2`, in their order. */
export function nested(params: URLSearchParams, name: string): URLSearchParams[] {
  const found = [...params.keys()].filter((key) => key.startsWith(name) && /^\d+$/.test(key.slice(name.length)));
  const at = (key: string) => Number(key.slice(name.length));
  return found.sort((a, b) => at(a) - at(b)).map((key) => new URLSearchParams(params.get(key) ?? ''));
}

/** What the address must say for these nested ones, and no others. */
export function nestedAs(
  params: URLSearchParams,
  name: string,
  all: readonly URLSearchParams[],
): Record<string, string | null> {
  const before = [...params.keys()].filter((key) => key.startsWith(name) && /^\d+$/.test(key.slice(name.length)));
  return {
    ...Object.fromEntries(before.map((key) => [key, null])),
    ...Object.fromEntries(all.map((one, i) => [`${name}${i + 1}`, one.toString()])),
  };
}
