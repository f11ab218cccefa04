import type { GivenState, LevelBeside, MonthBeside, PeerGroupView, RefusedStatistic } from '../api/client';
import { LOCALE } from './locale';
import { figure, plural } from './numbers';
import { when } from './time';

const month = new Intl.DateTimeFormat(LOCALE, { month: 'short', year: 'numeric', timeZone: 'UTC' });

/** A month as the tables name it. */
export const monthName = (name: string): string => month.format(new Date(`${name}-01T00:00:00Z`));

/** Own results beside those of other laboratories. */
export const PEERS = {
  title: 'Beside the peers',
  what: 'the peer groups',
  comparison: 'the comparison',
  group: 'Peer group',
  none: 'No peer group is set up. One compares reviewed control results with those of other laboratories.',
  noneFor: 'An engineer sets one up.',
  add: 'Set up a peer group',
  change: 'Change',
  given: 'What was given',
  ask: 'Ask for statistics now',
  asked: 'Asked. What is new shows here by itself.',
  told: (at: string | null | undefined) => (at == null ? 'It has told nothing yet.' : `It told of itself ${when(at)}.`),
  notAnswered: (why: string) => `It did not answer when it was asked last: ${why}. It is asked again by itself.`,
  notActive: 'This group is given nothing at present.',
  nothingGiven: 'Nothing was given yet: results go out once their run is marked as reviewed.',
  drawing: (analyte: string) => `${analyte}: SDI by month`,
  sdi: 'SDI',
  zero: 'peers',
  table: (analyte: string) => `${analyte} beside the peers`,
  level: 'Level',
  lots: 'Lots',
  month: 'Month',
  own: 'Own results',
  results: (level: string, n: number) => plural(n, { one: `1 result of ${level}`, other: `${n} results of ${level}` }),
  peers: 'Peers',
  columns: ['n', 'Mean', 'sd', 'CV'],
  peerColumns: ['Labs', 'n', 'Mean', 'sd'],
  beside: 'Compared',
  besideColumns: ['Bias', 'SDI', 'CVR'],
  distance: 'How far',
  explained:
    'SDI: how many of the peers’ sd the own mean lies from theirs. CVR: own scatter as a multiple of theirs. Ringed is what lies beyond 2, hollow what lies beyond 1.',
};

/** What is not near, in words beside the mark. */
export const DISTANCE = { near: 'near', apart: 'apart', far: 'far off' } as const;

/** Lots of a row: of the reagent, then of the control material. */
export const lotsOf = ({
  reagent_lot,
  control_lot,
}: {
  reagent_lot?: string | null;
  control_lot?: string | null;
}): string => [reagent_lot, control_lot].filter((lot) => lot != null).join(' · ') || '–';

/** A figure with its sign; what rounds to nothing has none. */
function signed(value: number | null | undefined, decimals: number): string {
  if (value == null) return '–';
  const rounded = Number(value.toFixed(decimals));
  return `${rounded > 0 ? '+' : ''}${figure(rounded, decimals)}`;
}

/** Bias, SDI and CVR as they stand in a row. */
export const comparedIn = ({ beside }: MonthBeside): [string, string, string] => [
  beside?.bias_percent == null ? '–' : `${signed(beside.bias_percent, 1)} %`,
  signed(beside?.sdi, 2),
  figure(beside?.cvr, 2),
];

/** What a mark of the drawing stands for. */
export const markSays = (level: LevelBeside, lots: string, of: MonthBeside): string =>
  `${level.level}, ${lots}, ${monthName(of.month)}: SDI ${signed(of.beside?.sdi, 2)}, ${of.own.n} own results`;

/** The newest month of each level with each of its lots, in a sentence. */
export function besideInWords(levels: readonly LevelBeside[]): string {
  const newest = levels.flatMap((level) => {
    const compared = level.lots.flatMap((lot) => lot.months.filter(({ beside }) => beside != null));
    const last = compared.reduce<MonthBeside | undefined>(
      (latest, one) => (latest === undefined || one.month >= latest.month ? one : latest),
      undefined,
    );
    return last === undefined ? [] : [{ level, last }];
  });
  if (newest.length === 0) return 'No month can be compared yet.';
  const off = newest.filter(({ last }) => last.beside?.distance !== 'near');
  if (off.length === 0) return 'In its newest month every level lies as near to the peers as most laboratories do.';
  const analytes = [...new Set(off.map(({ level }) => level.analyte))].map((analyte) => {
    const of = off.filter(({ level }) => level.analyte === analyte);
    return `${analyte} (${of.map(({ level, last }) => `${level.level} ${signed(last.beside?.sdi, 1)} in ${monthName(last.month)}`).join(', ')})`;
  });
  return `More than one of the peers’ sd away from their mean in its newest month: ${analytes.join('; ')}.`;
}

/** How what is given fares. */
export function givingFares({ given, waiting, not_taken, failed }: Fares): string {
  const parts = [
    plural(given, {
      zero: 'No result is with the group',
      one: '1 result is with the group',
      other: `${given} results are with the group`,
    }),
    ...(waiting > 0 ? [plural(waiting, { one: '1 waits', other: `${waiting} wait` })] : []),
    ...(not_taken > 0 ? [`${not_taken} ${plural(not_taken, { one: 'was', other: 'were' })} not taken`] : []),
  ];
  return `${parts.join(', ')}.${failed != null ? ` The last try: ${failed}.` : ''}`;
}

type Fares = Pick<PeerGroupView, 'given' | 'waiting' | 'not_taken' | 'failed'>;

/** The page of what was given. */
export const GIVEN = {
  title: 'What was given',
  what: 'the results',
  table: 'Results given',
  none: 'Nothing was given yet: results go out once their run is marked as reviewed.',
  noneUnsettled: 'Everything is with the group as it is now.',
  which: 'Which results',
  all: 'All',
  unsettled: 'Not there yet',
  level: 'Level',
  anyLevel: 'All levels',
  columns: ['Measured', 'Level', 'Result', 'Lots', 'Run', 'State'],
  further: 'Further',
  more: 'Older ones',
  withdraw: 'Take back …',
  withdrawOf: (what: string) => `Take back ${what}`,
  because: 'Why it is taken back',
  doWithdraw: 'Take it back',
  leave: 'Leave it',
  sendAgain: 'Try again now',
  changedSince: 'here it has changed since',
  revision: (n: number) => `revision ${n}`,
  byHand: 'By hand',
  saveWaiting: 'Save what waits as a file',
  saveAll: 'Save all that counts',
  json: 'JSON',
  csv: 'CSV',
  handedOver: (n: number) => plural(n, { one: 'This 1 was handed over', other: `These ${n} were handed over` }),
  markHanded: 'A file that was saved is with the group once somebody says so; until then its results wait.',
  takeIn: 'Take in statistics',
  takeInAbout:
    'A file of the group, JSON or CSV: code, month (2026-03), n, mean and sd; control_lot, reagent_lot, unit and laboratories where it names them.',
  choose: 'Choose a file …',
  tooLarge: 'The file is larger than 8 MB.',
  tookIn: (changed: number, known: number) =>
    `${plural(changed, { zero: 'Nothing new', one: '1 month is new or changed', other: `${changed} months are new or changed` })}; ${known} ${plural(known, { one: 'was', other: 'were' })} known so.`,
};

/** Where a result stands. */
export const GIVEN_STATES: Record<GivenState, string> = {
  waiting: 'waits',
  given: 'with the group',
  not_taken: 'not taken',
  withdrawal_waiting: 'taken back, the group is not told yet',
  withdrawn: 'taken back',
};

/** Setting a peer group up. */
export const PEER_FORM = {
  title: 'Set up a peer group',
  titleOf: (name: string) => `Change ${name}`,
  name: 'Name',
  laboratory: 'What this laboratory is called there',
  url: 'Address (empty: files are handed over)',
  urlHelp: 'Results are posted to …/results, statistics fetched from …/statistics.',
  token: 'Token',
  tokenNew: 'What this laboratory is known by there',
  tokenKept: 'Leave empty to keep the one before',
  since: 'Results measured from this day on',
  levels: 'What the group calls each level',
  levelsHelp: 'A level without a name there is not given.',
  active: 'Give what is reviewed',
  keep: 'Keep',
  leave: 'Leave without keeping',
};

const REFUSED: Record<RefusedStatistic['because'], string> = {
  code: 'no level here is called so',
  unit: 'another unit than here',
  n: 'fewer than 2 results',
  mean: 'the mean is no number that can be',
  sd: 'the sd is not above 0',
  lot: 'the name of a lot is too long',
  twice: 'told twice in the file',
};

/** So many refused rows are named. */
const NAMED = 5;

/** Why a file was not taken in. */
export function statisticsRefused(refused: readonly RefusedStatistic[]): string {
  const rows = refused.slice(0, NAMED).map(({ row, level, because }) => `${row} (${level}): ${REFUSED[because]}`);
  const more = refused.length - rows.length;
  return `Nothing of the file was taken in. Entry ${rows.join('; ')}${more > 0 ? `; and ${more} more` : ''}.`;
}
