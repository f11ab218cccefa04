import type { ImportCheck, ImportView, ReadingRefusal, RefusedCell, RefusedRow } from '../api/client';
import type { How, Kind, Part, Per } from '../api/recipe';
import { refusal } from './failures';
import { capital, plural } from './numbers';
import { rowsKnownBy } from './recipes';
import { when } from './time';

const samples = (n: number) => plural(n, { zero: 'no samples', one: '1 sample', other: `${n} samples` });
const rows = (n: number) => plural(n, { zero: 'no rows', one: '1 row', other: `${n} rows` });

/** Bringing tables in. */
export const DATA = {
  title: 'Data',
  what: 'what was brought in',
  bringIn: 'Bring in samples from a table',
  drop: 'Drop a file here, or paste cells from a sheet.',
  forms: 'CSV, XLSX, ODS or JSON, up to 64 MiB. Nothing is stored before you have seen the samples.',
  choose: 'Choose a file',
  pasted: (at: string) => `Pasted cells ${at}`,
  reading: 'the table',
  samples: 'the samples',
  tooLarge: 'The file is larger than 64 MiB. Bring it in as several files.',
  history: 'Brought in',
  none: 'Nothing was brought in yet. What is brought in stands here, with its file and who did it.',
  columns: { at: 'When', file: 'File', into: 'Into', came: 'What came', who: 'Who' },
  another: 'Another file',
  before: (at: string) => `This very file was brought in ${when(at)}. Rows that are known are not stored again.`,
  digest: (hex: string) => `SHA-256 ${hex}`,
  cancel: 'Cancel',
  judging: (percent: number) => `Stored and judged aside: ${percent} %`,
  toChart: 'To the chart',
};

/** Handing samples out. */
export const HAND_OUT = {
  title: 'Hand samples out',
  open: 'Hand samples out as a table',
  of: 'Characteristics',
  since: 'From',
  before: 'Until before',
  last: 'Latest of each',
  all: 'all',
  tag: 'Only with the tag',
  value: 'which is',
  withoutAside: 'Leave out samples that are set aside',
  which: 'Which samples',
  how: 'What stands in a row',
  shape: {
    across: 'One sample, its readings beside each other',
    grouped: 'One reading, with its sample and tags',
    down: 'One piece: each column is a sample',
    crossed: 'One value of a tag, another tag beside each other',
  },
  rows: 'Tag of the rows',
  columns: 'Tag of the columns',
  cell: 'In each cell',
  cells: { mean: 'the mean', smallest: 'the smallest', largest: 'the largest', samples: 'how many samples' },
  beside: 'Beside each sample',
  limits: 'Values and limits of the chart',
  signals: 'Signals',
  answers: 'Answers',
  choose: 'Choose a characteristic, and its table stands here.',
  chooseTags: 'Name the two tags.',
  first: 'The first rows',
  nothing: 'No samples are meant.',
  what: 'the table',
  files: 'The table as a file',
  format: { csv: 'CSV', xlsx: 'XLSX', ods: 'ODS', json: 'JSON' },
  recipe: 'The recipe',
  comesAgain:
    'It comes in again, equal to the last digit, by the recipe. In CSV a text that a sheet would compute has an apostrophe.',
  staysOut: 'A table of this shape leaves out what each sample was, so no recipe brings it in again.',
};

/** How an import stands. */
export const STATE_OF_IMPORT: Record<ImportView['state'], string> = {
  staged: 'under way',
  waiting: 'under way',
  done: 'done',
  cancelled: 'cancelled',
  failed: 'could not be made; nothing of it is there',
};

/** What came of an import. */
export function cameOf(it: ImportView): string {
  if (it.state !== 'done') return `${samples(it.stored)} ${STATE_OF_IMPORT[it.state]}`;
  const parts = [
    `${samples(it.stored)} stored`,
    it.known > 0 ? `${rows(it.known)} known before` : '',
    it.changed > 0 ? `${rows(it.changed)} changed since` : '',
    it.refused > 0 ? `${rows(it.refused)} refused` : '',
  ];
  return parts.filter((part) => part !== '').join(', ');
}

/** The page on which a table gets its shape. */
export const SHAPE = {
  sentence: 'What stands in a row',
  reason: {
    readings_beside_each_other: 'Several columns hold numbers of one size, so each row is taken as a sample.',
    one_reading_a_row: 'One column holds numbers, so each row is taken as a sample of one reading.',
    neighbours_agree: 'Neighbouring rows agree in a column, so they are taken together.',
    counts_of_inspected: 'Whole numbers stand beside how many were inspected, so each row is taken as a count.',
    columns_longer_than_rows: 'There are more columns than rows, so each column is taken as a sample.',
    several_measures:
      'Several columns hold numbers of different sizes; the first is taken. Mark another, where it is meant.',
    no_numbers:
      'No column holds numbers. Put readings into cells of their own in the sheet, or say below where the data begin.',
  },
  kind: {
    across: 'Each row is one sample',
    grouped: 'Rows that agree are one sample',
    column: 'Every so many rows are one sample',
    down: 'Each column is one sample',
    crossed: 'Rows and columns have labels',
    counts: 'Each row counts things',
    period: 'Rows are drawn together over time',
  } satisfies Record<Kind, string>,
  someRows: 'Only some rows …',
  whereColumn: 'Rows where',
  whereIs: 'is one of',
  allRows: 'All rows',
  size: 'Rows a sample',
  gather: 'Rows that agree',
  gathered: { neighbours: 'next to each other', all: 'wherever they stand' },
  sample: 'One sample is',
  crossed: { cell: 'each cell', row: 'each row', column: 'each column' },
  per: 'For each',
  periods: { hour: 'hour', day: 'day', week: 'week', month: 'month' } satisfies Record<Per, string>,
  how: 'Take',
  hows: {
    mean: 'the mean',
    sum: 'the sum',
    median: 'the median',
    min: 'the smallest',
    max: 'the largest',
    count: 'how many rows',
  } satisfies Record<How, string>,
  part: {
    reading: 'reading',
    time: 'time',
    tag: 'tag',
    groups: 'tells apart',
    label: 'row label',
    count: 'count',
    inspected: 'inspected',
    kind: 'kind of defect',
    left_out: 'left out',
  } satisfies Record<Part, string>,
  markOf: (column: string, part: string) =>
    `${column}: ${part}. Choose what it is, or drag the mark to another column.`,
  sheet: 'The sheet',
  rowNumber: 'Row',
  more: (n: number) => `and ${rows(n)} more`,
  asWillBe: 'The samples as they will be',
  none: 'No samples come of this. Mark the columns that hold readings.',
  found: (all: number, gaps: number) =>
    gaps === 0
      ? `${samples(all)}.`
      : `${samples(all)}, ${plural(gaps, { one: 'one of them a gap', other: `${gaps} of them gaps` })}.`,
  each: (n: number) => `Every ${n}th is drawn.`,
  drawn: 'The samples in order',
  refusedCells: (n: number) =>
    plural(n, {
      one: 'One cell cannot be read; its sample is left out.',
      other: `${n} cells cannot be read; their samples are left out.`,
    }),
  toRefused: (cell: RefusedCell) => `Row ${cell.row}, ${cell.column}: ${cellRefused(cell)}`,
  sample1: 'Sample',
  time: 'Time',
  values: 'Readings',
  tags: 'Tags',
  gap: 'gap',
  counted: (count: number, inspected: number | null) =>
    inspected === null ? String(count) : `${count} of ${inspected}`,
  read: {
    delimiter: 'Cells are parted by',
    decimal: 'Decimals by',
    header: 'Rows of names',
    skip: 'Skipped above',
    sheet: 'Sheet',
    first: 'the first',
    format: 'Times are written',
    blank: 'Blank rows',
    order: 'Order',
  },
  dates: 'as dates of the sheet',
  delimiters: { ',': 'comma', ';': 'semicolon', '\t': 'tab', '|': 'bar' } as Record<string, string>,
  decimals: { '.': 'point', ',': 'comma' } as Record<string, string>,
  blanks: { gap: 'are gaps', skip: 'are left out' } as Record<string, string>,
  orders: { given: 'as given', time: 'by time' } as Record<string, string>,
  recipe: 'Recipe',
  proposed: 'as proposed',
  keep: 'Keep this recipe',
  keepAs: 'Name of the recipe',
  keepDo: 'Keep',
  change: (name: string) => `Change ${name} to this`,
  kept: 'Kept. The next file can be read by it.',
};

/** How a time looks that is written so: the last afternoon of a year, so that day, month and hour are told apart. */
export function timeExample(format: string): string {
  const parts: Record<string, string> = {
    Y: '2026',
    y: '26',
    m: '12',
    d: '31',
    j: '365',
    b: 'Dec',
    B: 'December',
    H: '14',
    I: '2',
    p: 'PM',
    M: '05',
    S: '09',
  };
  return format.replace(/%(.)/g, (mark, letter: string) => parts[letter] ?? mark);
}

/** Why a cell is refused, and what would be right. */
export function cellRefused({ code, given }: RefusedCell): string {
  switch (code) {
    case 'not_a_number':
      return `“${given}” is not a number as decimals are set.`;
    case 'not_a_count':
      return `“${given}” is no whole number from 0 up.`;
    case 'not_a_time':
      return `“${given}” does not fit how times are written.`;
    case 'no_time':
      return 'the time is missing.';
  }
}

/** Into what samples are brought. */
export const INTO = {
  title: 'Into',
  characteristic: 'Characteristic',
  noTimes: 'The table tells no times. Say when the first sample was taken, and how far they lie apart.',
  first: 'First sample taken',
  every: 'Minutes from one to the next',
  source: 'The list',
  sourceHelp: 'A file that grows is the same list.',
  knownBy: 'Rows are known again by',
  byNumber: 'their number',
  knowBy: (key: readonly string[]) => `Know them by ${rowsKnownBy(key)}`,
  knownByHelp: 'Where rows are added in between or on top, choose what each row has alone.',
  checking: 'what would come of it',
  fits: (check: ImportCheck): string => {
    const parts = [
      `${capital(samples(check.new))} would be stored`,
      check.same > 0 ? `${rows(check.same)} are stored already` : '',
    ];
    return `${parts.filter((part) => part !== '').join('; ')}.`;
  },
  span: (from: string, to: string) => `Taken from ${when(from)} to ${when(to)}.`,
  judgedAgain: (n: number) =>
    plural(n, {
      one: 'One sample that is there is later than the first of them, and is judged again with them.',
      other: `${n} samples that are there are later than the first of them, and are judged again with them.`,
    }),
  another: 'So many known rows differ that this may be another list. Name it otherwise, or say that it is the same.',
  sameList: 'It is the same list',
  tagIs: (tag: string) => `Tag “${tag}” is`,
  notAsked: 'not asked for here',
  tagLeftOut: 'left out',
  how: 'How',
  allInOne: 'All of it into one characteristic',
  eachColumn: 'Each column into a characteristic of its own',
  eachValue: (tag: string) => `Each value of “${tag}” into a characteristic of its own`,
  newOne: 'Set up a new characteristic from this table',
  newForLooking: 'Keep the table for studies alone: in no round, and raising no signals',
  column: (name: string) => `Column “${name}”`,
  notIn: 'not brought in',
  tagsAlone: 'Tags that a characteristic does not ask for are left out.',
  inParts: (n: number, of: number) =>
    `Bring in ${samples(n)} ${plural(of, { one: 'into one characteristic', other: `into ${of} characteristics` })}`,
  cellsRefused: (n: number) => plural(n, { one: 'One cell cannot be read.', other: `${n} cells cannot be read.` }),
  refused: (n: number) => `${capitalRows(n)} cannot be kept:`,
  onlyRight: 'Bring in only what is right',
  bringIn: (n: number) => `Bring in ${samples(n)}`,
  nothing: 'Nothing new would be stored.',
  done: (it: ImportView) => `${cameOf(it)}.`,
  underWay: 'The samples are judged aside and come together at one moment. You can go on meanwhile.',
};

/** Tables in watched folders. */
export const FOLDER_TABLES = {
  title: 'In watched folders',
  place: { waiting: 'waits to be taken', done: 'brought in', refused: 'refused' },
};

/** Rows that were stored with other cells. */
export const CHANGED_ROWS = {
  title: (n: number) =>
    plural(n, {
      one: 'One row was stored with other cells. What is stored stays until you correct it.',
      other: `${n} rows were stored with other cells. What is stored stays until you correct it.`,
    }),
  columns: ['Row', 'Sample', 'Taken', 'Stored', 'The table says'],
  gap: 'no sample',
  notCorrected: 'Time or gap differs: withdraw the sample on its chart and enter it anew.',
  more: (n: number) => `and ${rows(n)} more`,
  reason: 'Why they are corrected',
  correct: (n: number) => plural(n, { one: 'Correct this sample', other: `Correct these ${n} samples` }),
};

const capitalRows = (n: number) => plural(n, { one: 'One row', other: `${n} rows` });

/** Rows that are named of many that are refused alike. */
const NAMED = 5;

/** Why rows cannot be kept; those that are refused alike together. */
export function rowsRefused(rows: readonly RefusedRow[]): string[] {
  const alike = new Map<string, RefusedRow[]>();
  rows.forEach((row) => {
    const why = rowRefused({ ...row, row: 0 });
    alike.set(why, [...(alike.get(why) ?? []), row]);
  });
  return [...alike.values()].map((all) => {
    const [first] = all;
    if (first === undefined) return '';
    if (all.length === 1) return rowRefused(first);
    const numbers = all.slice(0, NAMED).map(({ row }) => row ?? '–');
    const more = all.length > NAMED ? ` and ${all.length - NAMED} more` : '';
    return rowRefused({ ...first, row: 0 }).replace(/^Row 0( tells| lies)?/, (_, verb?: string) => {
      const many = verb === ' tells' ? ' tell' : verb === ' lies' ? ' lie' : '';
      return `Rows ${numbers.join(', ')}${more}${many}`;
    });
  });
}

/** Why a row cannot be kept. */
export function rowRefused(row: RefusedRow): string {
  const where = row.row == null ? 'A period' : `Row ${row.row}`;
  switch (row.reason) {
    case 'no_time':
      return `${where} tells no time.`;
    case 'in_the_future':
      return `${where} lies in the future: ${when(row.taken_at)}.`;
    case 'too_early':
      return `${where} lies before 1970.`;
    case 'entry':
      return `${where}: ${row.refusals.map(entryRefused).join(' ')}`;
  }
}

/** What is brought in names its tags itself. */
const entryRefused = (r: ReadingRefusal): string =>
  r.code === 'tag' ? `The tag “${r.tag}” is not asked for here, or longer than 80 characters.` : refusal(r);
