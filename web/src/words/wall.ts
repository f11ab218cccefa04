import type { WallEpisode } from '../api/client';
import { plural } from './numbers';
import { patternLabel } from './signals';
import { ago, atClock } from './time';

/** What a display shows. */
export const WALL = {
  title: 'Wall view',
  wall: 'the wall view',
  noToken: 'This address shows no token. Open the link that was shown when the display was set up in Plan → Devices.',
  refused: 'This display is not known any more. An engineer sets up a new one in Plan → Devices.',
  nothingToChart: 'Nothing is set up at the stations of this display.',
  overdue: (n: number) => plural(n, { zero: '✓ nothing overdue', one: '◆ 1 overdue', other: `◆ ${n} overdue` }),
  open: (n: number) => plural(n, { zero: '✓ nothing open', one: '▬ 1 open', other: `▬ ${n} open` }),
  overdueTitle: 'Overdue',
  openTitle: 'Waits for an answer',
  more: (n: number) => `and ${n} more`,
  page: (n: number, of: number) => `${n} of ${of}`,
  held: 'held',
  asOf: (at: number) => `No connection. This is how it stood at ${atClock(at)}.`,
  noSample: 'No sample yet',
  charts: 'Charts',
};

/** How long an episode has waited, marked where that is too long, and what it is. */
export function waitsInWords({ patterns, raised_at: raised, too_long: tooLong }: WallEpisode): string {
  const [first, ...others] = patterns;
  const what = first ? patternLabel(first.rule, first.side) : '';
  const more = others.length > 0 ? ` +${others.length}` : '';
  return `${tooLong ? '◆ ' : ''}${ago(raised)}: ${what}${more}`;
}

/** Height of a capital letter as a share of the size it is set in. */
const CAPITAL = 0.66;
/** A 55-inch monitor of 16 to 9, in millimetres. */
const WIDE_MM = 1218;
/** Writing is read without effort from where its capitals take 16 minutes of arc. */
const ARC = Math.tan((16 / 60) * (Math.PI / 180));

/** From how many metres writing that is `share` of the width of a 55-inch monitor is read. */
export function readableFrom(share: number): number {
  return (share * WIDE_MM * CAPITAL) / ARC / 1000;
}
