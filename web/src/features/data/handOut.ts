import type { HandedAsked } from '../../api/client';
import { momentOf } from '../../words/time';

/** Which samples are handed out, and in which shape: as the address of the page tells it. */
export interface HandOut {
  of: readonly string[];
  shape: Shape;
  /** The latest of each characteristic; all where blank. */
  last: string;
  since: string;
  before: string;
  tag: string;
  value: string;
  withoutAside: boolean;
  rows: string;
  columns: string;
  cell: Cell;
  limits: boolean;
  signals: boolean;
  answers: boolean;
}

export const SHAPES = ['across', 'grouped', 'down', 'crossed'] as const;
export type Shape = (typeof SHAPES)[number];
export const CELLS = ['mean', 'smallest', 'largest', 'samples'] as const;
export type Cell = (typeof CELLS)[number];
export const FORMATS = ['csv', 'xlsx', 'ods', 'json'] as const;
export type Format = (typeof FORMATS)[number];

function among<T extends string>(known: readonly T[], given: string | null, usual: T): T {
  return known.find((one) => one === given) ?? usual;
}

/** As an address tells it. */
export function handOutOf(address: URLSearchParams): HandOut {
  const text = (name: string) => address.get(name) ?? '';
  const on = (name: string) => address.get(name) === 'true';
  return {
    of: text('of')
      .split(',')
      .filter((id) => id !== ''),
    shape: among(SHAPES, address.get('shape'), 'across'),
    last: text('last'),
    since: text('since'),
    before: text('before'),
    tag: text('tag'),
    value: text('value'),
    withoutAside: on('without_aside'),
    rows: text('rows'),
    columns: text('columns'),
    cell: among(CELLS, address.get('cell'), 'mean'),
    limits: on('limits'),
    signals: on('signals'),
    answers: on('answers'),
  };
}

/** The same as an address, what is blank left out. */
export function addressOf(asked: HandOut): URLSearchParams {
  const crossed = asked.shape === 'crossed';
  const parts: Record<string, string> = {
    of: asked.of.join(','),
    shape: asked.shape,
    last: asked.last,
    since: asked.since,
    before: asked.before,
    tag: asked.tag,
    value: asked.tag === '' ? '' : asked.value,
    without_aside: asked.withoutAside ? 'true' : '',
    rows: crossed ? asked.rows : '',
    columns: crossed ? asked.columns : '',
    cell: crossed ? asked.cell : '',
    limits: asked.limits && !crossed ? 'true' : '',
    signals: asked.signals && !crossed ? 'true' : '',
    answers: asked.answers && !crossed ? 'true' : '',
  };
  return new URLSearchParams(Object.entries(parts).filter(([, value]) => value !== ''));
}

/** Whether enough is said to hand something out. */
export function isWhole(asked: HandOut): boolean {
  return asked.of.length > 0 && (asked.shape !== 'crossed' || (asked.rows !== '' && asked.columns !== ''));
}

/** As the server is asked for it. */
export function handedOf(asked: HandOut, format: Format): HandedAsked {
  const query = addressOf(asked);
  for (const day of ['since', 'before']) {
    // It begins at midnight of the site.
    const at = momentOf(`${query.get(day) ?? ''}T00:00`);
    if (at === null) query.delete(day);
    else query.set(day, at);
  }
  query.set('as', format);
  return Object.fromEntries(query) as unknown as HandedAsked;
}

/** Where the table is as a file, or what is beside it. */
export function handedAt(asked: HandOut, format: Format, what: '' | '/recipes' = ''): string {
  const query = handedOf(asked, format) as unknown as Record<string, string>;
  return `/api/data/samples${what}?${new URLSearchParams(query).toString()}`;
}

/** Whether a table of this shape comes in again. */
export const comesAgain = (shape: Shape) => shape === 'across' || shape === 'grouped';
