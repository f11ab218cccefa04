import type { SignalState } from '../../api/client';
import type { EpisodesAsked } from '../../api/queries';
import { daysIn, idsIn } from '../../ui/address';
import { RULES_BROKEN } from '../../words/setUpForm';

/** The lists there are: one a state, and all. */
export const LISTS: readonly (SignalState | 'all')[] = [
  'open',
  'sent_back',
  'answered',
  'found_late',
  'reviewed',
  'all',
];

/** What narrows a list, as its address says it. */
export const NARROWS = [
  'area',
  'station',
  'product',
  'rule',
  'cause',
  'person',
  'from',
  'until',
  'laboratory',
  'trial',
  'escalated',
  'everywhere',
] as const;
export type Narrow = (typeof NARROWS)[number];

export function listOf(params: URLSearchParams): SignalState | 'all' {
  const asked = params.get('state');
  return LISTS.find((list) => list === asked) ?? 'open';
}

/** What narrows the list of an address; a day begins at midnight of the site. */
export function narrowedBy(params: URLSearchParams): EpisodesAsked {
  const asked: EpisodesAsked = {
    ...idsIn(params, ['area', 'station', 'product', 'cause', 'person']),
    ...daysIn(params, ['from', 'until']),
  };
  const rule = params.get('rule');
  if (rule !== null && rule in RULES_BROKEN) asked.rule = rule;
  const laboratory = params.get('laboratory');
  if (laboratory === 'true' || laboratory === 'false') asked.laboratory = laboratory === 'true';
  const trial = params.get('trial');
  if (trial === 'true' || trial === 'false') asked.trial = trial === 'true';
  if (params.get('escalated') === 'true') asked.escalated = true;
  // Who belongs somewhere begins there; who names a place, or everything, means that.
  if (!['everywhere', 'area', 'station'].some((wider) => params.has(wider))) asked.mine = true;
  return asked;
}

/** The episodes of a list: what was sent back is open too, and what waits is worked through from the oldest on. */
export function askedOf(list: SignalState | 'all', narrowed: EpisodesAsked): EpisodesAsked {
  switch (list) {
    case 'open':
      return { ...narrowed, waiting: true, order: 'queue' };
    case 'all':
      return narrowed;
    case 'sent_back':
    case 'answered':
    case 'found_late':
      return { ...narrowed, state: list, order: 'queue' };
    case 'reviewed':
      return { ...narrowed, state: list };
  }
}
