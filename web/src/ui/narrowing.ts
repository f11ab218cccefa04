import { FILTER } from '../words/signalPages';
import type { Options } from './fields';

/** Any, or one of what has a name. */
export const anyOf = (of: readonly { id: string; name: string }[] = []): Options<string> => [
  ['', FILTER.any],
  ...of.map(({ id, name }) => [id, name] as const),
];

/** The address narrowed by one thing more, or by one less. */
export function narrowedTo(params: URLSearchParams, by: string, to: string): URLSearchParams {
  const next = new URLSearchParams(params);
  if (to === '') next.delete(by);
  else next.set(by, to);
  return next;
}
