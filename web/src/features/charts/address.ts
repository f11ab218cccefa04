/** What of a chart is looked at, as its address says it: a link shows exactly this. */

import { PLACES_AT_MOST, type Stretch } from '../../api/chart';
import type { Shown } from '../../chart/ControlChart';
import { daysIn } from '../../ui/address';
import type { Characteristic, Statistic } from '../../api/client';

/** How many of the last points; `ALL` is as many as are charted at once. */
export const ALL = PLACES_AT_MOST;
export const LASTS = [30, 60, 200, 500, 2000, ALL] as const;
const USUAL = 60;

/** Which points there are to look at. */
export function stretchIn(params: URLSearchParams): Stretch {
  const { after, until } = daysIn(params, ['after', 'until']);
  const since = params.get('since') ?? after;
  if (since !== undefined || until !== undefined)
    return { ...(since !== undefined && { since }), ...(until !== undefined && { before: until }), last: ALL };
  return { last: lastIn(params) };
}

/** What says which points there are, and how closely they are looked at. */
export const NO_STRETCH = { after: null, until: null, since: null, from: null, to: null, last: null };

export function lastIn(params: URLSearchParams): number {
  const asked = params.get('last') === 'all' ? ALL : Number(params.get('last'));
  return LASTS.find((last) => last === asked) ?? USUAL;
}

export const lastInWords = (last: number) => (last === ALL ? 'all' : String(last));

/** The times between which it is looked at closely, in milliseconds. */
export function closeIn(params: URLSearchParams): { from: number; to: number } | null {
  const [from, to] = [params.get('from'), params.get('to')].map((time) => Date.parse(time ?? ''));
  return from === undefined || to === undefined || Number.isNaN(from) || Number.isNaN(to) || from > to
    ? null
    : { from, to };
}

/** What is left out, as `zones,labels`. */
export function shownIn(text: string | null): Shown {
  const hidden = (text ?? '').split(',');
  return {
    zones: !hidden.includes('zones'),
    labels: !hidden.includes('labels'),
    lanes: !hidden.includes('lanes'),
  };
}

type KeptScale = Characteristic['scales'][number];

export type Scales = Partial<Record<Statistic, readonly [low: number, high: number]>>;

/** Scales that somebody typed, as `mean:3.9:4.2,range:0:0.4`. */
export function scalesIn(text: string | null): Scales {
  const found: Scales = {};
  for (const part of (text ?? '').split(',')) {
    const [statistic, low, high] = part.split(':');
    const [from, to] = [Number(low), Number(high)];
    if (statistic && low && high && from < to) found[statistic as Statistic] = [from, to];
  }
  return found;
}

/** What the address says for every panel as far as its points need it, whatever scale is kept. */
export const OWN_SCALES = 'auto';

/** The scales to draw at: those of the address, else those kept with the set-up. */
export function scalesSeen(text: string | null, kept: readonly KeptScale[]): Scales {
  return text === null ? scalesIn(scalesInWords(byPanel(kept))) : scalesIn(text);
}

/** The address that shows the same scales to whoever opens it, whatever is kept by then. */
export const scalesForLink = (text: string | null, kept: readonly KeptScale[]): string =>
  text ?? scalesInWords(byPanel(kept)) ?? OWN_SCALES;

export const keptOf = (scales: Scales): KeptScale[] =>
  Object.entries(scales).map(([panel, [low, high]]) => ({ panel: panel as Statistic, low, high }));

function byPanel(kept: readonly KeptScale[]): Scales {
  return Object.fromEntries(kept.map(({ panel, low, high }) => [panel, [low, high]]));
}

export function scalesInWords(scales: Scales): string | null {
  const parts = Object.entries(scales).map(([statistic, [low, high]]) => `${statistic}:${low}:${high}`);
  return parts.length === 0 ? null : parts.join(',');
}
