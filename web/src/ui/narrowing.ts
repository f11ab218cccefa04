import { FILTER } from '../words/signalPages';
import type { Options } from './fields';

/** Any, or one of what has a name. */
export const anyOf = (of: readonly { id: string; name: string }[] = [], any: string = FILTER.any): Options<string> => [
  ['', any],
  ...of.map(({ id, name }) => [id, name] as const),
];
