import type { Kind, OverTimeAnswer, Question } from '../api/client';
import { figure, grouped, plural } from './numbers';

/** Columns that each kind of data has. */
export const COLUMNS_OF = {
  measured: ['value', 'range', 'sample'],
  nonconforming_units: ['rate', 'count', 'inspected', 'sample'],
  nonconformities: ['rate', 'count', 'inspected', 'sample'],
  rare_event: ['value', 'sample'],
} as const satisfies Record<Kind, readonly string[]>;

export const OVER_TIME = {
  how: 'How does the',
  sum: 'Summed up as',
  of: 'of',
  what: 'Column',
  from: 'of',
  goes: 'go, by',
  per: 'Period',
  k: 'Limits at',
  sigma: (k: string) => `${k} sigma`,
  sums: {
    mean: 'mean',
    sum: 'sum',
    number: 'number',
    median: 'median',
    smallest: 'smallest',
    largest: 'largest',
    sd: 's',
  },
  columns: {
    value: 'values',
    range: 'ranges within samples',
    count: 'counts',
    inspected: 'units inspected',
    rate: 'rates',
    sample: 'samples',
  },
  tag: (name: string) => `tag ${name}`,
  spans: { hour: 'hour', shift: 'shift', day: 'day', week: 'week', month: 'month' },
  center: 'Mean',
  upper: 'Upper',
  lower: 'Lower',
  period: 'Period',
  samples: 'Samples',
  values: 'Values',
  value: 'Value',
  remark: 'Remark',
  beyond: { above: 'above the limit', below: 'below the limit' },
  running: 'goes on still',
  periodSays: (name: string, value: string, samples: number) =>
    `${name}: ${value}, ${plural(samples, { zero: 'no sample', one: '1 sample', other: `${samples} samples` })}`,
  makeIt: 'Make it a characteristic',
  makeItHint: 'Worth watching every day? Set it up, and it is entered, judged and answered like the others.',
};

type Asked = Extract<Question, { sort: 'over_time' }>;

/** What is summed up: `mean of values`. */
export function measureInWords({ measure, summary }: Asked): string {
  const column = measure.column === 'tag' ? OVER_TIME.tag(measure.name) : OVER_TIME.columns[measure.column];
  return `${OVER_TIME.sums[summary]} of ${column}`;
}

/** How it goes, in sentences. */
export function overTimeInWords(answer: OverTimeAnswer, question: Asked, decimals: number): string[] {
  const { periods, limits, beyond, no_numbers: noNumbers, samples } = answer;
  const span = OVER_TIME.spans[question.per];
  const sentences = [
    `${plural(samples, { one: '1 sample', other: `${grouped(samples)} samples` })} in ${plural(periods.length, { one: `1 ${span}`, other: `${grouped(periods.length)} ${span}s` })}.`,
  ];
  if (!limits) sentences.push('Fewer than eight whole periods: no limits are drawn.');
  else
    sentences.push(
      `Limits at ${question.k ?? 3} sigma lie from ${figure(limits.lower, decimals)} to ${figure(limits.upper, decimals)}; ` +
        plural(beyond, {
          zero: 'no period lies beyond.',
          one: '1 period lies beyond.',
          other: `${beyond} periods lie beyond.`,
        }),
    );
  if (noNumbers > 0)
    sentences.push(
      `${plural(noNumbers, { one: '1 value of the tag is no number', other: `${grouped(noNumbers)} values of the tag are no numbers` })} and passed over.`,
    );
  return sentences;
}
