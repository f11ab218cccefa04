import type { Characteristic, ChartKind, Preset, Recommendation, Rule, RuleSet } from '../api/client';
import { patternLabel } from './signals';

export const CHARTS: Partial<Record<ChartKind, string>> = {
  i_mr: 'Individuals and moving range',
  xbar_r: 'Mean and range',
  xbar_s: 'Mean and s',
  median_r: 'Median and range',
  np: 'Number of nonconforming units (np)',
  p: 'Share of nonconforming units (p)',
  p_prime: 'Share of nonconforming units, scatter from the data (p′)',
  c: 'Number of nonconformities (c)',
  u: 'Nonconformities per unit (u)',
  u_prime: 'Nonconformities per unit, scatter from the data (u′)',
};

export function chartName(chart: ChartKind): string {
  return CHARTS[chart] ?? chart;
}

export const PRESETS: Record<Preset, string> = {
  limits_only: 'Beyond the limits, nothing else',
  western_electric: 'Western Electric: limits, 2 of 3, 4 of 5, eight on one side',
  nelson: 'Nelson: all eight patterns',
  seven_point: 'Limits, seven on one side, seven rising or falling',
};

export function ruleSetName(rules: RuleSet): string {
  if ('preset' in rules) return PRESETS[rules.preset];
  return rules.list.map((rule: Rule) => patternLabel(rule, null)).join('; ');
}

export const KINDS = {
  measured: 'A measured value of each piece',
  nonconforming_units: 'How many units do not conform: each counts once, whatever is wrong with it',
  nonconformities: 'How many flaws there are: one unit can have several',
} as const;

export const TAKEN = {
  consecutive: 'One after another, from one stream',
  spread: 'Spread over the time since the sample before',
  streams: 'One from each of several moulds, heads or machines',
} as const;

export function reasonFor({ reason }: Recommendation): string {
  switch (reason.code) {
    case 'single_value':
      return 'A single value has no spread of its own; the difference to its neighbour shows it.';
    case 'few_pieces':
      return 'With few pieces their range says nearly as much as their standard deviation, and anybody can check it by hand.';
    case 'many_pieces':
      return 'With many pieces the range wastes most of what they say; the standard deviation uses all of them.';
    case 'units_constant':
      return 'Always the same number is inspected, so the number found can be plotted as it is.';
    case 'units_varying':
      return 'The number inspected varies, so only the share can be compared; its limits move with the number.';
    case 'flaws_constant':
      return 'Always the same amount is looked at, so the number of flaws can be plotted as it is.';
    case 'flaws_varying':
      return 'The amount looked at varies, so only flaws per unit can be compared; their limits move with the amount.';
    case 'over_dispersed':
      return `The ${reason.samples} counts so far scatter ${reason.ratio.toFixed(1)} times as much as chance alone allows; usual limits would cry wolf. The scatter between samples is taken from the data.`;
  }
}

export function cautionFor(caution: Recommendation['cautions'][number]): string {
  switch (caution) {
    case 'streams_mixed':
      return 'Different streams in one sample widen its range, and with it the limits: the chart goes blind. A characteristic for each stream sees more.';
    case 'spread_out':
      return 'Pieces spread over the time hide what happened within it. Pieces made one after another show a change sooner.';
    case 'few_inspected':
      return 'So few are inspected that most samples will have none. Inspect more at a time; it may then be less often.';
  }
}

/** A field of a set-up by the words that its form uses. */
export const FIELDS: Record<string, string> = {
  name: 'Name',
  kind: 'What is recorded',
  unit: 'Unit',
  decimals: 'Decimals',
  chart: 'Chart',
  subgroup_size: 'Pieces or units each time',
  varying: 'Always the same number',
  taken: 'Where the pieces come from',
  sampling: 'When a sample is due',
  rule_set: 'Rules',
  hard_bounds: 'Can be measured',
  soft_bounds: 'Usual',
  specification: 'Specification',
  reaction_plan: 'Reaction plan',
  asked_tags: 'Tags asked',
  labels: 'Labels',
  hidden: 'Hidden',
  feature: 'Feature',
  components: 'Reference components',
  defect_kinds: 'Kinds of defects',
};

/** Any value of a set-up in a few words. */
export function valueInWords(field: string, value: unknown): string {
  if (field === 'chart') return chartName(value as ChartKind);
  if (field === 'rule_set') return ruleSetName(value as RuleSet);
  if (field === 'sampling') return samplingInWords(value as Sampling);
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value))
    return value.length === 0
      ? 'none'
      : value.map((one) => (typeof one === 'string' ? one : (one as { name: string }).name)).join(', ');
  if (value === null || value === undefined || value === '') return 'none';
  if (typeof value === 'object') {
    const given = Object.entries(value).filter(([, x]) => x !== null);
    return given.length === 0 ? 'none' : given.map(([name, x]) => `${name} ${x as number}`).join(', ');
  }
  return typeof value === 'number' || typeof value === 'string' ? `${value}` : '';
}

export type Sampling = { every: 'minutes' | 'pieces'; count: number } | { every: 'lot' } | { every: 'shift' };

export function samplingInWords(sampling: Sampling): string {
  switch (sampling.every) {
    case 'minutes':
      return sampling.count % 60 === 0 && sampling.count > 60
        ? `every ${sampling.count / 60} h`
        : `every ${sampling.count} min`;
    case 'pieces':
      return `every ${sampling.count} pieces`;
    case 'lot':
      return 'each lot';
    case 'shift':
      return 'once a shift';
  }
}

/** What is loaded, as the waiting page names it. */
export const LOADING = { plan: 'the plan', rules: 'the rules' } as const;

export const EVERY: Record<Characteristic['sampling']['every'], string> = {
  minutes: 'Every so many minutes',
  pieces: 'Every so many pieces',
  lot: 'Once for each lot',
  shift: 'Once a shift',
};

export const SAME = { yes: 'Yes, always', no: 'No, it is asked each time' } as const;

/** Rules of an own list; their numbers stand beside them. */
export const RULES_OFFERED: Record<Rule['kind'], string> = {
  beyond: 'A point beyond so many sigma',
  one_side: 'So many in a row on one side of the centre',
  trend: 'So many in a row rising, or falling',
  alternating: 'So many in a row up and down by turns',
  m_of_n: 'Some of a few beyond so many sigma, on one side',
  hugging: 'So many in a row close to the centre',
  avoiding: 'So many in a row away from the centre, on both sides',
};

export const PARAMETERS = { m: 'points', n: 'in a row', k: 'sigma' } as const;

/** The form of a characteristic. */
export const SET_UP = {
  title: 'Set up a characteristic',
  back: 'Back to the plan',
  gone: 'There is no such characteristic any more.',
  needsPlaces: 'A characteristic needs a station and a product. Add them in the plan first.',
  copyOf: (name: string) => `${name}, copy`,
  whatAndWhere: 'What and where',
  name: 'Name',
  station: 'Station',
  product: 'Product',
  howTaken: 'How the sample is taken',
  whatRecorded: 'What do you record?',
  howManyPieces: 'How many pieces each time?',
  howManyInspected: 'How many are inspected each time?',
  aboutHowMany: 'About how many, as a rule?',
  askedEachTime: 'It is asked each time; this only tells which chart fits.',
  whereFrom: 'Where do the pieces come from?',
  alwaysTheSame: 'Always the same number?',
  whenDue: 'When is a sample due?',
  minutes: 'Minutes',
  pieces: 'Pieces',
  chart: 'Chart',
  fits: (chart: string) => `${chart} fits.`,
  recommended: (chart: string) => `${chart}, recommended`,
  values: 'The values',
  unit: 'Unit',
  decimals: 'Decimals',
  moreDigits: 'More digits than these are refused, not rounded.',
  measuredFrom: 'Can be measured from',
  to: 'to',
  refusedOutside: 'Values outside are refused.',
  usualFrom: 'Usual from',
  askedOutside: 'Values outside are asked about.',
  lsl: 'Lower specification limit',
  target: 'Target',
  usl: 'Upper specification limit',
  neverOnChart: 'They belong to capability and never stand on the chart.',
  feature: 'Feature it belongs to',
  suchAsABore: 'Such as a bore whose position is judged.',
  components: 'Reference components, with commas',
  recordedBeside: 'Recorded beside the value, drawn lightly, judged by no rule.',
  whatCounted: 'What is counted',
  whatInspected: 'What is inspected',
  suchAsCartridges: 'Such as cartridges.',
  kindsAreTapped: 'Kinds can be tapped, or counted by their letter. Anything else is counted as “other”, with a word.',
  kind: 'Kind',
  letter: 'Letter',
  remove: 'Remove',
  removeKind: (name: string) => `Remove ${name}`,
  anotherKind: 'Another kind',
  addKind: 'Add the kind',
  kindNotAdded: (name: string) => `“${name}” is typed and not added. Add the kind, or clear its field.`,
  signals: 'Signals',
  rules: 'Rules',
  ownList: 'An own list',
  reactionPlan: 'Reaction plan, one step a line',
  stepsAreShown: 'The steps are shown with every signal of this characteristic.',
  askedAndFound: 'Asked and found',
  tags: 'Tags asked with each sample, with commas',
  suchAsLot: 'Such as lot, mould. The shift is known from the calendar.',
  labels: 'Labels, with commas',
  wordsToFind: 'Words to find it by.',
  hidden: 'Hidden: left out of Rounds and Charts',
  numberNeeded: 'A number is needed.',
  anotherLook: 'Some fields need another look; each says why.',
  saveChange: 'Save the change',
  setUp: 'Set it up',
} as const;

export const SHOWN = { shown: 'Shown', hidden: 'Hidden' } as const;

/** Changing many characteristics at once. */
export const CHANGE_MANY = {
  title: 'Change many at once',
  whatChanges: 'What changes',
  what: {
    rules: 'Rules',
    chart: 'Chart',
    minutes: 'Minutes between samples',
    shown: 'Shown or hidden',
    label: 'Add a label',
    unlabel: 'Take a label away',
    tag: 'Ask a tag',
    reaction: 'Add a step to the reaction plan',
  },
  to: 'To',
  whatWillChange: 'What will change',
  characteristic: 'Characteristic',
  now: 'Now',
  then: 'Then',
  change: (n: number) => `Change ${n}`,
  back: 'Back',
  allOrNone: 'All change or none: choose without those that cannot.',
  stays: 'stays as it is',
  newPhase: 'A new phase starts on trial limits.',
} as const;

/** The list of everything that is set up. */
export const PLAN = {
  title: 'Plan',
  devices: 'Devices',
  add: { station: 'Add a station', product: 'Add a product' },
  addIt: 'Add it',
  name: 'Name',
  area: 'Area',
  existingOrNew: 'One that exists, or a new one.',
  setUpAnalyte: 'Set up an analyte',
  find: 'Find by name, product, station or label',
  starHelp: '* stands for anything, as in *wall*',
  foundOf: (found: number, all: number) => `${found} of ${all}`,
  chooseAll: 'Choose all found',
  chooseNone: 'Choose none',
  changeMany: 'Change many at once …',
  changeSome: (n: number) => `Change ${n} at once …`,
  done: {
    changed: (what: string) => `${what} is changed.`,
    'set-up': (what: string) => `${what} is set up; its first sample starts the chart.`,
  },
  enterSample: 'Enter a sample',
  nothingFits: (find: string) => `Nothing fits “${find}”.`,
  nothingSetUp: 'Nothing is set up yet. Add a station and a product, then a characteristic.',
  characteristics: 'Characteristics',
  choose: (name: string, product: string, station: string) => `Choose ${name}, ${product}, ${station}`,
  hidden: 'hidden',
  copy: 'Copy',
  copyOf: (name: string, product: string) => `Copy ${name}, ${product}`,
} as const;
