import type { DefectsAnswer, Kind, RateRatio } from '../api/client';
import { figure, grouped, inWords, plural } from './numbers';

export const DEFECTS = {
  which: 'Which defects does',
  have: 'have?',
  pool: 'Small kinds',
  poolNone: 'Each by itself',
  poolBelow: (percent: string) => `Together below ${percent} %`,
  against: 'Held against',
  againstNone: 'Nothing',
  againstOthers: 'Other samples',
  othersTitle: 'Held against these samples',
  title: 'Defects by kind',
  kind: 'Kind',
  others: (n: number) => plural(n, { one: '1 small kind', other: `${n} small kinds` }),
  count: 'Count',
  weight: 'Cost of one',
  further: 'Further',
  weighted: 'Count × cost',
  share: 'Share',
  cumulative: 'Up to here',
  rate: 'In 1,000 units',
  rateThere: 'In 1,000 there',
  ratio: 'Times as many',
  shareIs: (x: number) => `${figure(100 * x, 1)} %`,
  perThousand: (rate: number) => figure(1000 * rate, rate < 0.001 ? 2 : 1),
  trend: 'Over time',
  tree: 'Why?',
  shareOfAll: (count: number, share: number, all: number) =>
    `${grouped(count)} of ${grouped(all)} defects, ${figure(100 * share, 1)} %`,
  matrix: 'Counts by part',
  unweighted: '1',
  barSays: (name: string, count: number, share: number, cumulative: number) =>
    `${name}: ${count}, ${figure(100 * share, 1)} %; up to here ${figure(100 * cumulative, 1)} %`,
  drawn: 'How wide a bar is says its share; the step beside it, the share of all kinds up to there.',
};

const found = (kind: Kind, n: number) =>
  kind === 'nonconforming_units'
    ? plural(n, { one: '1 nonconforming unit', other: `${grouped(n)} nonconforming units` })
    : plural(n, { one: '1 defect', other: `${grouped(n)} defects` });

/** What was found, in sentences. */
export function defectsInWords(answer: DefectsAnswer): string[] {
  const { totals, few, kinds, against, ratio, about } = answer;
  const samples = plural(totals.samples, { one: '1 sample', other: `${grouped(totals.samples)} samples` });
  const units = plural(totals.inspected, { one: '1 unit', other: `${grouped(totals.inspected)} units` });
  const sentences = [
    totals.count === 0
      ? `In ${samples} with ${units} nothing was found.`
      : `In ${samples} with ${units}: ${found(about.kind, totals.count)}, ${DEFECTS.perThousand(totals.rate)} in 1,000 units.`,
  ];
  if (few && kinds > 1)
    sentences.push(
      `${few.kinds === 1 ? 'One' : capitalised(inWords(few.kinds))} of ${inWords(kinds)} kinds ${few.kinds === 1 ? 'makes' : 'make'} up ${figure(100 * few.share, 0)} %${answer.weighted ? ' of what they cost' : ''}.`,
    );
  if (totals.set_aside > 0)
    sentences.push(
      `${plural(totals.set_aside, { one: '1 sample is', other: `${grouped(totals.set_aside)} samples are` })} set aside and not counted.`,
    );
  if (against && ratio) sentences.push(`Against the others: ${ratioInWords(ratio)}.`);
  return sentences;
}

const capitalised = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** More, fewer, or not to be told apart. */
export function ratioInWords({ value, low, high, p, beyond_chance: beyondChance }: RateRatio): string {
  if (value == null) return 'there were none of it there';
  const interval = `95 % interval ${figure(low, 2)} to ${high == null ? 'no end' : figure(high, 2)}, p ${probability(p)}`;
  if (!beyondChance) return `${figure(value, 2)} times as many, which may be chance (${interval})`;
  return `${figure(value, 2)} times as many, ${value > 1 ? 'more' : 'fewer'} than chance makes (${interval})`;
}

export const probability = (p: number) => (p < 0.0001 ? 'below 0.0001' : figure(p, 4));
