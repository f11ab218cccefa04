import type { ChartView } from '../api/chart';
import type { Saved, Unusual } from '../api/client';
import { within } from './failures';
import { figure, inWords, plural } from './numbers';
import { recorded } from './samples';
import { when } from './time';

/** What says what is usual, behind the bounds. */
const USUAL_BY: Record<Unusual['by'], string> = {
  bounds: '',
  limits: ', by the limits in force',
  recorded: ', by what was recorded so far',
};

/** The entry of a sample. */
export const ENTRY = {
  characteristic: 'the characteristic',
  looksOnly: 'Your role looks at samples and does not enter them.',
  notYours: 'You enter samples at your own stations alone.',
  chart: 'Chart',
  openWhole: 'Open the whole chart',
  firstTaken: (at: string) => `It counts as taken ${when(at)}, when it was first entered.`,
  unusual: (
    { piece, given, lower, upper, by }: Unusual,
    { unit, decimals, subgroup_size: pieces }: { unit: string; decimals: number; subgroup_size: number },
  ) => {
    const round = (x?: number | null) => (x == null ? x : Number(x.toFixed(decimals)));
    const which = pieces > 1 ? `Piece ${piece}: ` : '';
    const usual = `values ${within(round(lower), round(upper))} are usual here${USUAL_BY[by]}`;
    return `${which}${figure(given, decimals)} ${unit} is unusual; ${usual}. Is it right?`;
  },
  meant: (readings: readonly string[], unit: string) => `${readings.join(', ')} ${unit} was meant`,
  typeAgainOr: 'Type it again, or',
  keepIt: 'Keep it, measured so',
  noReading: (pieces: readonly number[]) =>
    plural(pieces.length, {
      one: `Piece ${pieces[0] ?? ''} has no reading.`,
      other: `Pieces ${pieces.join(', ')} have no reading.`,
    }),
  leaveOut: 'Leave out on purpose',
  nothingCounted: 'Nothing is counted yet. Count what was found, or choose “None found”.',
  save: 'Save sample',
  correctLast: 'Correct the last sample',
  hasGone: 'The sample that waited has gone through.',
  isKept: 'The sample is kept on this device and goes through by itself.',
  seeWaiting: 'See what waits',
  pencilOf: (typed: number, of: number) =>
    `The point in pencil is of ${typed} of ${of} pieces, between limits for ${typed}.`,
  wouldBreak: (patterns: readonly string[]) => `As typed, this sample breaks a rule: ${patterns.join('; ')}.`,
  nextDue: (name: string, station: string) => `Next due: ${name}, ${station}`,
  leftOut: 'left out',
  between: (unit: string) => `How many ${unit} conformed since the one before`,
  when: 'When did it happen',
  nowIfEmpty: 'Left empty, it happened now.',
  part: 'Part',
  reading: 'Reading',
  piece: (n: number) => `Piece ${n}`,
  tooMany: (values: readonly string[]) =>
    `More values were pasted than there are pieces. Left out: ${values.join(', ')}.`,
};

/** A sample that is saved, and what came of it. */
export function savedInWords({ number, asking, goes_on: goesOn }: Saved): string {
  const saved = `Sample ${number} is saved.`;
  if (asking.length === 1) return `${saved} It breaks a rule:`;
  if (asking.length > 1) return `${saved} It asks about ${inWords(asking.length)} things; this is the first:`;
  return goesOn ? `${saved} A pattern that is known goes on.` : `${saved} No rule is broken.`;
}

/** The sample before, in a line. */
export function lastSample({ points, characteristic }: ChartView): string {
  const last = points[points.length - 1];
  if (!last) return 'No sample yet. The first one starts the chart.';
  return `Last sample ${last.number}, ${when(last.taken_at)}, ${last.person}: ${recorded(last, characteristic)}`;
}

/** What is typed on the pad: piece, unit, the value of last time. */
export function onPad(piece: number | null, unit: string, last: string | null): string {
  const what = piece === null ? `Reading, in ${unit}` : `Piece ${piece}, in ${unit}`;
  return last === null ? what : `${what}, last time ${last}`;
}

export const ENTRY_KEYS = {
  measured: [
    { keys: ['Enter'], does: 'next reading, on the last one saves' },
    { keys: ['Esc'], does: 'one back' },
  ],
  event: [{ keys: ['Enter'], does: 'saves' }],
  counted: [
    { keys: [], does: 'a letter counts one, digits before it so many' },
    { keys: ['0'], does: 'none found' },
    { keys: ['U'], does: 'undoes' },
    { keys: ['Enter'], does: 'saves' },
  ],
};

/** The pad for fingers and gloves. */
export const PAD = {
  title: 'Numeric pad',
  minus: 'Minus',
  point: 'Decimal point',
  erase: 'Erase',
  next: 'Next',
  save: 'Save',
};

/** Counting by kind. */
export const TALLY = {
  title: 'Tally',
  inspected: (unit: string) => `How many ${unit} were inspected`,
  unitsOnce: (unit: string) => `Each of the ${unit} that does not conform counts once, by what is wrong with it most.`,
  everyFlaw: (unit: string) => `Every flaw counts; one of the ${unit} may have several.`,
  other: 'Other …',
  otherInAWord: 'The other kind, in a word',
  units: (among: string) => `of ${among} do not conform`,
  flaws: (count: number, among: string, unit: string) =>
    plural(count, { one: `flaw on ${among} ${unit}`, other: `flaws on ${among} ${unit}` }),
  nextKey: (digits: string) => `next key counts ${digits}`,
  none: 'None found',
  undo: 'Undo',
};

/** Skipping a sample. */
export const SKIP = {
  begin: 'Skip this sample …',
  title: 'Skip this sample',
  why: 'Why none is taken',
  skip: 'Skip it',
  back: 'Back',
  waiting: (name: string, because: string) => `${name}: ${because}`,
};
