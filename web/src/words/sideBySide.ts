import type { Estimate, SideBySideAnswer } from '../api/client';
import { probability } from './defects';
import { figure, significant } from './numbers';

export const SIDE_BY_SIDE = {
  base: 'The first set',
  beside: 'beside it',
  set: (n: number) => `Set ${n}`,
  called: 'Called',
  byItsName: 'By its name',
  more: 'One set more',
  remove: 'Take it away',
  confidence: 'Intervals of',
  picture: 'On one scale',
  measuredPicture: 'Bars are the values of each set; the mark is its mean, with its interval.',
  countedPicture: 'The mark is the rate of each set, with its interval.',
  figures: 'Figures',
  figure: 'Figure',
  against: 'Against the first set',
  empty: (names: readonly string[]) => `Without a sample, and left out: ${names.join(', ')}.`,
  points: 'Samples',
  n: 'Values',
  mean: 'Mean',
  sd: 's',
  cv: 'CV %',
  min: 'Smallest',
  median: 'Median',
  max: 'Largest',
  within: 'Sigma within',
  below: 'Below LSL',
  above: 'Above USL',
  cp: 'Cp',
  cpk: 'Cpk',
  pp: 'Pp',
  ppk: 'Ppk',
  difference: 'Difference of means',
  ratioSd: 'Ratio of s',
  bias: 'Bias %',
  sdi: 'SDI',
  cvr: 'CVR',
  count: 'Count',
  size: 'Units',
  rate: 'Rate',
  interval: 'Its interval',
  differenceRates: 'Difference of rates',
  ratioRates: 'Ratio of rates',
  to: (low: string, high: string) => `${low} to ${high}`,
  p: (p: number) => `p ${probability(p)}`,
  ownSpec: 'The sets have different specifications: nothing is held against them.',
};

/** What differs, a sentence a set. */
export function sideBySideInWords(answer: SideBySideAnswer): string[] {
  const { columns } = answer;
  const says = (name: string, of: Estimate | null | undefined, beyond: boolean, what: (value: number) => string) =>
    of?.value == null
      ? `${name}: nothing can be said, one of the two has no spread.`
      : `${name}: ${what(of.value)}, ${beyond ? 'more than chance makes' : 'which may be chance'} (${SIDE_BY_SIDE.p(of.p)}).`;
  const unit = answer.about[0]?.unit ?? '';
  switch (columns.of) {
    case 'measured':
      return columns.columns.flatMap(({ figures: f, against, beyond_chance: beyond }) =>
        against
          ? [
              says(
                f.name,
                against.mean_difference,
                beyond,
                (x) => `its mean is ${significant(Math.abs(x))} ${unit} ${x < 0 ? 'lower' : 'higher'}`,
              ),
            ]
          : [],
      );
    case 'units':
      return columns.columns.flatMap(({ figures: f, against, beyond_chance: beyond }) =>
        against
          ? [
              says(
                f.name,
                against.difference,
                beyond,
                (x) => `its rate is ${significant(Math.abs(100 * x))} points ${x < 0 ? 'lower' : 'higher'}`,
              ),
            ]
          : [],
      );
    case 'events':
      return columns.columns.flatMap(({ figures: f, against, beyond_chance: beyond }) =>
        against ? [says(f.name, against.ratio, beyond, (x) => `${figure(x, 2)} times as many`)] : [],
      );
  }
}
