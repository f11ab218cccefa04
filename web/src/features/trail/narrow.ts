import type { TrailEntry } from '../../api/client';
import type { TrailAsked } from '../../api/queries';
import { daysIn, idsIn } from '../../ui/address';
import { DEEDS } from '../../words/trail';

/** What narrows the trail, as its address says it. */
export type Narrow = 'person' | 'action' | 'characteristic' | 'from' | 'until';

const isAction = (word: string): word is TrailEntry['action'] => word in DEEDS;

/** What an address asks of the trail; a day begins at midnight of the site. */
export function askedOf(params: URLSearchParams): TrailAsked {
  const asked: TrailAsked = { ...idsIn(params, ['person', 'characteristic']), ...daysIn(params, ['from', 'until']) };
  const action = params.get('action');
  if (action !== null && isAction(action)) asked.action = action;
  return asked;
}

/** Where the same is handed out as a table. */
export function fileOf(asked: TrailAsked): string {
  const given = Object.entries(asked).filter((entry): entry is [string, string] => typeof entry[1] === 'string');
  return `/api/trail.csv?${new URLSearchParams(given).toString()}`;
}
