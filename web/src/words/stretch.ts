import { plural } from './numbers';
import { when } from './time';

/** Several points in a row. */
export const STRETCH = {
  title: (first: number, last: number) => `Samples ${first} to ${last}`,
  times: (from: number, to: number) => `${when(from)} to ${when(to)}`,
  counts: (points: number, flagged: number, aside: number, more: boolean) =>
    [
      plural(points, { one: '1 point', other: `${points} points` }),
      ...(flagged > 0 ? [`${more ? 'at least ' : ''}${flagged} flagged`] : []),
      ...(aside > 0 ? [`${aside} set aside`] : []),
    ].join(', '),
  all: (tags: readonly string[]) => `all of ${tags.join(' · ')}`,
  samples: 'The samples',
  theSamples: 'the samples',
  isAside: 'set aside',
  notEach: 'So many that not each is listed; the file holds all of them.',
  close: 'Look at them closely',
  csv: 'Take them as CSV',
  away: 'Choose none',
  until: 'Choose on to …',
  untilNow: 'Choose the point to end at.',
  setAside: (n: number) => plural(n, { one: 'Set it aside …', other: `Set all ${n} aside …` }),
  done: (n: number) => plural(n, { zero: 'Setting aside …', one: '1 is set aside.', other: `${n} are set aside.` }),
  tooMany: (most: number) => `More than ${most} are set aside on the path of limits.`,
};
