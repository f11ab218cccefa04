import type { Family, Since, Sort, Split, StudyRefusal } from '../api/client';
import { grouped, plural } from './numbers';
import { when } from './time';

/** Families as they are called in the trade. */
const FAMILIES: Record<Family, string> = {
  normal: 'normal',
  lognormal: 'lognormal',
  weibull: 'Weibull',
  gamma: 'gamma',
  exponential: 'exponential',
  logistic: 'logistic',
  gumbel: 'largest extreme value',
  lognormal3: 'lognormal from a start',
  weibull3: 'Weibull from a start',
};

export const familyName = (family: Family) => FAMILIES[family];

export const STUDIES = {
  title: 'Studies',
  what: 'the studies',
  aStudy: 'the study',
  theAnswer: 'the answer',
  none: 'No study is kept yet. Choose a characteristic and ask; what is worth keeping is kept under a name.',
  ask: 'Ask about a characteristic',
  asks: {
    capability: 'Is it able?',
    distribution: 'Which distribution?',
    defects: 'Which defects?',
    side_by_side: 'Side by side',
    rule_sets: 'What do the rules see?',
    over_time: 'Over time',
  } satisfies Record<Sort, string>,
  asksHint: {
    capability: 'Whether the process holds its specification, with what stands against the figures.',
    distribution: 'Which family the values follow, and what lies below which share.',
    defects: 'Which kinds there are, how many of each, and what has changed.',
    side_by_side: 'Lines, shifts, lots, periods or levels as columns, each held against the first.',
    rule_sets: 'How soon rules and sampling plans see a shift, and what they cost.',
    over_time: 'Any column by hour, shift, day, week or month, with limits, without setting anything up.',
  } satisfies Record<Sort, string>,
  search: 'Search',
  allSorts: 'All sorts',
  noneSuch: 'No study is like that.',
  askHint: 'Choose one: what can be asked of its data appears. Rules and plans can be weighed without.',
  characteristic: 'Characteristic',
  columns: { name: 'Study', sort: 'Sort', about: 'About', answered: 'Answered', stage: 'Stands' },
  sorts: {
    capability: 'Capability',
    distribution: 'Distribution',
    defects: 'Defects by kind',
    side_by_side: 'Side by side',
    rule_sets: 'Rules and plans',
    over_time: 'Over time',
  } satisfies Record<Sort, string>,
  stages: { kept: 'kept', frozen: 'frozen' },
  signedBy: (names: readonly string[]) => `signed by ${names.join(', ')}`,
  answered: (at: string, by: string) => `${when(at)}, ${by}`,
  frozenHint: 'A frozen copy: it stays as it was found.',
  toOriginal: 'The study it was copied from',
  keep: 'Keep this study',
  name: 'Name of the study',
  remark: 'What it is for',
  keepIt: 'Keep',
  keepAsNew: 'Keep as a new study',
  keepOver: (name: string) => `Keep as ${name}`,
  refresh: 'Find the answer anew',
  otherwise: 'Ask otherwise',
  freeze: 'Freeze a copy',
  sign: 'Sign',
  signTitle: 'Sign this copy',
  signMeaning: 'You sign exactly the answer that stands here: that you have seen it and stand by it.',
  password: 'Your password',
  signed: (name: string, at: string) => `Signed by ${name}, ${when(at)}.`,
  print: 'Print',
  copies: 'Frozen copies',
  copy: (n: number) => `copy ${n}`,
  asTable: 'As a table',
  close: 'Close',
};

/** What has happened since the answer was found. */
export function sinceInWords(answeredAt: string, by: string, since: Since | null | undefined): string {
  const found = `Found ${when(answeredAt)} by ${by}`;
  if (!since) return `${found}; the data are as they were.`;
  const samples =
    since.samples > 0 && plural(since.samples, { one: '1 sample came', other: `${since.samples} samples came` });
  const others =
    since.others > 0 &&
    plural(since.others, { one: '1 other thing was done', other: `${since.others} other things were done` });
  const setUp = since.set_up && 'the set-up was changed';
  return `${found}. Since then ${[samples, others, setUp].filter((part) => part !== false).join(', ')}.`;
}

export const ASK = {
  question: 'The question',
  is: 'Is',
  characteristic: 'Characteristic',
  able: 'able to hold its specification?',
  samples: 'Samples',
  all: 'All of them',
  last: (n: number) => `The last ${n}`,
  phase: (name: string) => `Phase ${name}`,
  after: 'Taken from',
  until: 'Until before',
  tag: (name: string) => `Only ${name}`,
  anyValue: 'Any',
  setAside: 'Set aside',
  without: 'Left out',
  with: 'Taken in',
  values: 'Values taken as',
  auto: 'what fits best',
  bars: 'Bars',
  barsAuto: 'By their spread',
  split: 'Told apart by',
  splits: {
    none: 'Nothing',
    phase: 'Phase: before and after',
    day: 'Day',
    week: 'Week',
    month: 'Month',
    shift: 'Shift',
  },
  splitTag: (name: string) => `Tag ${name}`,
  lsl: 'LSL',
  target: 'Target',
  usl: 'USL',
  ableFrom: 'Able from',
  barelyFrom: 'Barely from',
  ownSpec: 'As set up',
};

/** Why a question has no answer, and what would help. */
export function studyRefusal(refused: StudyRefusal): string {
  switch (refused.because) {
    case 'other_kind':
      return 'This asks about another kind of data than is recorded here. Choose another characteristic.';
    case 'no_specification':
      return 'There is no specification limit. Give LSL or USL here, or set them up with the characteristic.';
    case 'no_samples':
      return 'No sample with a value is selected. Widen the time, or take a tag away.';
    case 'too_many':
      return `More than ${grouped(refused.most)} samples are selected. Narrow the time, or take the last of them.`;
    case 'all_equal':
      return refused.values === 1
        ? 'There is a single value: nothing can be said of its spread.'
        : `All ${refused.values} values are equal: they have no spread that could be held against a specification.`;
    case 'outside_family':
      return `${refused.family ? `The ${familyName(refused.family)} distribution` : 'This distribution'} does not hold every value: some lie where it has none. Choose another, or what fits best.`;
    case 'not_single':
      return 'Moving ranges need one value a sample. Leave sigma to the chart.';
    case 'unlike':
      return 'These sets record different things, or in different units. Choose sets of one kind.';
    case 'signals_too_rarely':
      return `${refused.name} hardly ever signals: it would have to be simulated for hours. Take narrower limits, or one rule more.`;
    case 'too_many_periods':
      return `There are more than ${grouped(refused.most)} such periods. Narrow the time, or take longer ones.`;
    case 'no_shifts':
      return 'The calendar has no shifts. Set them up, or take days.';
    case 'frozen':
      return 'This is a frozen copy: it stays as it is. Ask otherwise from the study it was copied from.';
    case 'not_frozen':
      return 'Freeze a copy first: what can still change is not signed.';
    case 'signed_before':
      return 'You have signed this copy already.';
  }
}

/** The samples behind a figure. */
export const BEHIND = {
  title: (what: string, n: number) =>
    `${what}: ${plural(n, { zero: 'no sample', one: '1 sample', other: `${n} samples` })}`,
  more: (n: number) => `The newest ${n} are listed.`,
  number: 'Sample',
  taken: 'Taken',
  readings: 'Values',
  aside: 'set aside',
  of: (count: number, inspected: number) => `${count} in ${inspected}`,
};

export function splitName(split: Split | null | undefined): string {
  if (!split) return ASK.splits.none;
  return split.by === 'tag' ? ASK.splitTag(split.name) : ASK.splits[split.by];
}
