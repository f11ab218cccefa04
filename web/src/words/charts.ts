import type { Doubt } from '../api/client';
import { plural } from './numbers';
import { when } from './time';

/** The list of charts. */
export const CHARTS_LIST = {
  title: 'Charts',
  find: 'Find by name, product or station',
  charts: 'the charts',
  nothingFits: (wanted: string) =>
    wanted === ''
      ? 'No chart is of all of these.'
      : `No chart has “${wanted}” in its name, product, station or labels.`,
  nothingSetUp: 'Nothing is set up yet.',
};

export function openEpisodes(n: number): string {
  return plural(n, { one: '1 open episode', other: `${n} open episodes` });
}

/** Many charts at once. */
export const MANY = {
  stretch: 'Points',
  stretches: {
    '40': 'The last 40 of each',
    '100': 'The last 100 of each',
    '400': 'The last 400 of each',
    day: 'The same day of all',
    week: 'The same week of all',
    month: 'The same month of all',
  },
  order: 'Order',
  orders: { worst: 'Worst first', place: 'As the stations stand' },
  narrows: { area: 'Area', station: 'Station', product: 'Product', label: 'Label' },
  any: 'Any',
  pinned: 'My pinned ones',
  nothingPinned: 'None of your pinned charts is here. The ribbon at the corner of a chart pins it.',
  pin: (name: string, station: string) => `Pin ${name}, ${station}`,
  noSample: 'No sample yet.',
  noneInTime: 'No sample in this time.',
  nothing: 'none',
  drawn: (name: string, points: number, newest: string) =>
    `${name}: ${plural(points, { one: '1 point', other: `${points} points` })}, newest ${newest}`,
};

/** One chart, and what stands beside it. */
export const CHART_PAGE = {
  chart: 'the chart',
  title: 'Chart',
  samplesInAll: (n: number) => plural(n, { one: '1 sample in all', other: `${n} samples in all` }),
  enterSample: 'Enter a sample',
  measureRun: 'Measure a run',
  noSample: 'No sample yet. The first one starts the chart.',
  openWhole: 'Open the whole chart',
  noneThere: 'No sample was taken there.',
  thinned: (drawn: number, places: number, flagsThinned: boolean) =>
    `${drawn} of ${places} points are drawn: ${flagsThinned ? '' : 'all that are flagged, and '}the lowest and highest everywhere. ${flagsThinned ? 'So many are flagged that not each has its ring. ' : ''}A closer look shows each.`,
  standsFor: (n: number) => ` The chosen mark stands for ${n} samples.`,
  thePoint: 'the point',
  notAmong: 'This sample is not among the points shown.',
  showAmongAll: 'Show it among all points',
  figures: 'Figures',
  limitsNow: (phase: string) => `Limits now: ${phase}`,
  centre: 'Centre',
  sigma: 'Sigma',
  sigmaFrom: 'Sigma from',
  limitsAt: 'Limits at',
  atSigma: (k: number) => `${k} sigma`,
  pointsUsed: 'Points used',
  noneGiven: 'none: given',
  tooFew: 'too few yet',
  state: 'State',
  since: 'Since',
  by: 'By',
  withEachSample: 'computed with each sample',
  choosePoint: 'Choose a point to see all that is known of it.',
  allSignals: 'All episodes',
};

/** What keys and pointer do on a chart; keys are marked as such. */
export const CHART_KEYS = [
  { keys: ['←', '→'], does: 'choose a point' },
  { keys: ['Shift'], does: 'and they or a click choose up to another' },
  { keys: ['+', '−'], does: 'zoom' },
  { keys: ['0'], does: 'shows all' },
  { keys: [], does: 'drag moves along' },
  { keys: ['Ctrl'], does: 'and the wheel zoom' },
  { keys: ['Shift'], does: 'and the wheel move along' },
];

/** One point, and its change. */
export const POINT = {
  sample: (n: number) => `Sample ${n}`,
  taken: (at: string, person: string) => `${when(at)}, ${person}`,
  takenLate: (at: string, person: string, arrived: string) => `${when(at)}, ${person}, arrived ${when(arrived)}`,
  skipped: (person: string, because: string) => `Skipped by ${person}: ${because}`,
  withdrawn: (person: string, because: string) => `Withdrawn by ${person}: ${because}`,
  limits: (lower: string, centre: string, upper: string) => `LCL ${lower} · CL ${centre} · UCL ${upper}`,
  change: 'Correct or withdraw',
  changeForm: 'Change the sample',
  piece: (n: number, unit: string) => `Piece ${n}, ${unit}`,
  between: (unit: string) => `${unit} since the one before`,
  timeStays: 'The time of an event is its place on the chart. Withdraw a wrong one, and enter it again.',
  inspected: (unit: string) => `Inspected ${unit}`,
  wholeNumber: 'A whole number is needed.',
  why: 'Why it is changed',
  noReading: (pieces: readonly number[]) =>
    plural(pieces.length, {
      one: `Piece ${pieces[0] ?? ''} has no reading any more.`,
      other: `Pieces ${pieces.join(', ')} have no reading any more.`,
    }),
  leaveOut: 'Leave out on purpose',
  unusual: 'A reading is unusual here.',
  doubted: ({ piece, first }: Doubt, pieces: number) => {
    const which = pieces > 1 ? `Piece ${piece}` : 'The reading';
    return first == null
      ? `${which} was unusual when it came, and was kept.`
      : `${which} was typed as ${first} first, and changed when that was asked about.`;
  },
  keepIt: 'Keep it, measured so',
  save: 'Save correction',
  withdraw: 'Withdraw the sample',
  back: 'Back',
};

/** What a sample said before it was corrected, and who changed it why. */
export function correctedInWords({
  person,
  at,
  reason,
  old,
}: {
  person: string;
  at: string;
  reason: string;
  old: Record<string, unknown>;
}): string {
  return `Corrected by ${person}, ${when(at)}: ${reason}. It said ${before(old)}.`;
}

function before(old: Record<string, unknown>): string {
  if (Array.isArray(old.readings)) return old.readings.map((r) => (r == null ? '–' : String(r))).join('  ');
  return `${String(old.count)} in ${String(old.inspected)}`;
}
