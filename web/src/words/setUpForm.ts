import type { Broken, Characteristic, Rule } from '../api/client';

/** What is loaded, as the waiting page names it. */
export const LOADING = { plan: 'the plan', rules: 'the rules' };

export const EVERY: Record<Characteristic['sampling']['every'], string> = {
  minutes: 'Every so many minutes',
  pieces: 'Every so many pieces',
  lot: 'Once for each lot',
  shift: 'Once a shift',
  never: 'When it happens',
};

export const SAME = { yes: 'Yes, always', no: 'No, it is asked each time' };

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

/** What a signal can say was broken. */
export const RULES_BROKEN: Record<Broken['kind'], string> = {
  ...RULES_OFFERED,
  multirule: 'A rule that a run of the laboratory is judged by',
};

export const PARAMETER_NAMES = { m: 'points', n: 'in a row', k: 'sigma' };

/** Where the sigma of single values comes from. */
export const SIGMA_METHODS: Record<Characteristic['options']['sigma_method'], string> = {
  mean_mr: 'The mean moving range',
  median_mr: 'The median moving range',
  overall: 'All values together',
};

/** What a chart can be drawn with. */
export const OPTIONS = {
  title: 'How the chart is drawn',
  k: 'Limits at',
  sigma: 'In sigma.',
  span: 'Points in a moving range',
  sigmaFrom: 'Sigma from',
  lambda: 'Weight of the newest point',
  lambdaHelp: 'Above 0, at most 1; small ones find small shifts.',
  width: 'Points in the average',
  kappa: 'Reference value',
  kappaHelp: 'In sigma: half the shift to be found.',
  h: 'Decision interval',
  target: 'Target',
  targetHelp: 'The centre, where none is given.',
  fastStart: 'Start at half the decision interval, to find a shift that is there from the start',
  conforming: 'Plot the conforming share',
  meanSize: 'Straight limits, at the mean number inspected',
};

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
  components: 'Reference components',
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
  whatBetween: 'What conforms between two',
  parts: 'Parts that share this chart',
  partsHelp:
    'For short runs of different parts: each is plotted as its deviation from its own nominal, over its sigma where parts scatter differently. Without any, all samples are of one part.',
  part: 'Part',
  nominal: 'Nominal',
  partSigma: 'Sigma, if it differs',
  removePart: (name: string) => `Remove ${name === '' ? 'the part' : name}`,
  addPart: 'Add a part',
  kindNotAdded: (name: string) => `“${name}” is typed and not added. Add the kind, or clear its field.`,
  signals: 'Signals',
  rules: 'Rules',
  ownList: 'An own list',
  escalatesAfter: 'Raised to supervisors when open for longer (min)',
  reactionPlan: 'Reaction plan, one step a line',
  stepsAreShown: 'The steps are shown with every signal of this characteristic.',
  askedAndFound: 'Asked and found',
  tags: 'Tags asked with each sample',
  suchAsLot: 'Such as lot, mould. The shift is known from the calendar.',
  labels: 'Labels',
  wordsToFind: 'Words to find it by.',
  able: 'Able from (Cpk)',
  ableHelp: 'For the verdict of capability studies.',
  barely: 'Barely able from (Cpk)',
  phaseEvents: 'Events that propose a phase',
  phaseEventsHelp: 'Such as a new lot. An engineer is asked; no phase begins by itself.',
  hidden: 'Hidden: left out of Rounds and Charts',
  numberNeeded: 'A number is needed.',
  anotherLook: 'Some fields need another look; each says why.',
  saveChange: 'Save the change',
  setUp: 'Set it up',
};

export const SHOWN = { shown: 'Shown', hidden: 'Hidden' };

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
};

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
};
