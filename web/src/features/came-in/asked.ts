import type { SamplesAsked } from '../../api/queries';
import { daysIn, idsIn } from '../../ui/address';
import { BECAME } from '../../words/cameIn';

/** What narrows the list, as its address says it. */
export const NARROWS = [
  'area',
  'station',
  'product',
  'person',
  'from',
  'until',
  'laboratory',
  'became',
  'everywhere',
] as const;
export type Narrow = (typeof NARROWS)[number];

/** The samples that an address asks for; a day begins at midnight of the site. */
export function askedOf(params: URLSearchParams): SamplesAsked {
  const asked: SamplesAsked = {
    ...idsIn(params, ['area', 'station', 'product', 'person']),
    ...daysIn(params, ['from', 'until']),
  };
  const became = params.get('became');
  const known = Object.keys(BECAME) as (keyof typeof BECAME)[];
  const found = known.find((one) => one === became);
  if (found) asked.became = found;
  const laboratory = params.get('laboratory');
  if (laboratory === 'true' || laboratory === 'false') asked.laboratory = laboratory === 'true';
  // Who belongs somewhere begins there; who names a place, or everything, means that.
  if (!['everywhere', 'area', 'station'].some((wider) => params.has(wider))) asked.mine = true;
  return asked;
}
