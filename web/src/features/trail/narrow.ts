import type { TrailEntry } from '../../api/client';
import type { TrailAsked } from '../../api/queries';
import { DEEDS } from '../../words/trail';
import { momentOf } from '../../words/time';

/** What narrows the trail, as its address says it. */
export type Narrow = 'person' | 'action' | 'characteristic' | 'from' | 'until';

const isAction = (word: string): word is TrailEntry['action'] => word in DEEDS;

/** What an address asks of the trail; a day begins at midnight of the site. */
export function askedOf(params: URLSearchParams): TrailAsked {
  const asked: TrailAsked = {};
  for (const by of ['person', 'characteristic'] as const) {
    const id = params.get(by);
    if (id !== null && /^[0-9a-f-]{36}$/.test(id)) asked[by] = id;
  }
  const action = params.get('action');
  if (action !== null && isAction(action)) asked.action = action;
  for (const by of ['from', 'until'] as const) {
    const moment = momentOf(`${params.get(by) ?? ''}T00:00`);
    if (moment !== null) asked[by] = moment;
  }
  return asked;
}

/** Where the same is handed out as a table. */
export function fileOf(asked: TrailAsked): string {
  const given = Object.entries(asked).filter((entry): entry is [string, string] => typeof entry[1] === 'string');
  return `/api/trail.csv?${new URLSearchParams(given).toString()}`;
}
