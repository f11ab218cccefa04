import type { CapabilityAnswer, CapabilityDoubt, CapabilityVerdict, Family, Standing } from '../api/client';
import { figure, grouped, inWords, plural } from './numbers';
import { familyName } from './studies';

export const STANDINGS: Record<Standing, string> = { able: 'Able', barely: 'Barely able', not_able: 'Not able' };
/** The verdict in a word or two, with what it must be read with. */
export const standingSays = (standing: Standing, grave: boolean) =>
  grave ? `${STANDINGS[standing]}, with doubts` : STANDINGS[standing];

export const isGrave = ({ doubt, ...more }: CapabilityDoubt): boolean =>
  doubt === 'unstable' || doubt === 'coarse' || (doubt === 'not_normal' && 'better' in more && more.better != null);

export const STANDING_MARKS: Record<Standing, string> = { able: '✓', barely: '◆', not_able: '▲' };

export const indexName = (name: CapabilityVerdict['index']) => (name === 'cpk' ? 'Cpk' : 'Ppk');

/** The verdict in a sentence or three. */
export function verdictInWords(answer: CapabilityAnswer): string[] {
  const { verdict, capability: c } = answer;
  if (!verdict) return ['There is no index: the spread within samples cannot be estimated.'];
  const low =
    verdict.low == null || verdict.low_standing == null
      ? ''
      : verdict.low_standing === verdict.standing
        ? `, and at least ${figure(verdict.low, 2)} with 97.5 % confidence`
        : `; with 97.5 % confidence it is only known to be at least ${figure(verdict.low, 2)}`;
  const first = `${indexName(verdict.index)} is ${figure(verdict.value, 2)}${low}.`;
  const { observed, expected } = answer.outside;
  const second = `Of a million pieces about ${million(expected)} would lie outside; of those measured ${million(observed)} did.`;
  return [first, second, ...(c.centring == null || c.centring < 0.05 ? [] : [offCentre(answer)])];
}

function offCentre({ capability: c, specification: s }: CapabilityAnswer): string {
  const middle = ((s.lsl ?? 0) + (s.usl ?? 0)) / 2;
  return `The mean lies ${Math.round((c.centring ?? 0) * 100)} % of half the width ${c.mean > middle ? 'above' : 'below'} the middle; centred, it could reach ${figure(c.cp, 2)}.`;
}

/** Parts per million, with no more digits than they deserve. */
export function million(ppm: number | null | undefined): string {
  if (ppm == null) return '–';
  if (ppm >= 100) return grouped(Math.round(ppm));
  if (ppm >= 0.095) return figure(ppm, 1);
  return ppm === 0 ? '0' : 'less than 0.1';
}

/** What the figures must be read with. */
export function doubtInWords(doubt: CapabilityDoubt): { name: string; says: string } {
  switch (doubt.doubt) {
    case 'unstable':
      return {
        name: 'Not stable',
        says:
          plural(doubt.episodes, { one: '1 episode stands', other: `${doubt.episodes} episodes stand` }) +
          ' among these samples' +
          (doubt.unsettled > 0 ? `, ${inWords(doubt.unsettled)} of them not settled` : '') +
          '. The indices foretell nothing while the process moves.',
      };
    case 'unsteady':
      return {
        name: 'Not steady',
        says: `${plural(doubt.signals, { one: '1 pattern breaks', other: `${doubt.signals} patterns break` })} the rules when these samples are taken as one phase.`,
      };
    case 'too_few':
      return {
        name: 'Too few',
        says: `${doubt.samples} samples with ${doubt.values} values: the intervals are wide, and a rare cause may not have come yet.`,
      };
    case 'not_normal':
      return {
        name: 'Not normal',
        says:
          `The values are not normal (p ${doubt.p < 0.0001 ? 'below 0.0001' : figure(doubt.p, 4)})` +
          (doubt.better == null
            ? '; no other family fits clearly better. The shares far out are to be read as rough.'
            : `; ${familyName(doubt.better)} fits better. The shares outside are wrong in the tails.`),
      };
    case 'coarse':
      return {
        name: 'Too coarse',
        says: `Only ${doubt.distinct} different spreads within their limits: the measuring unit hides what it should show.`,
      };
    case 'dependent':
      return {
        name: 'Not independent',
        says: `Each sample resembles the one before (correlation ${figure(doubt.r1, 2)}): there is less in them than their number says.`,
      };
    case 'drifting':
      return {
        name: 'Wanders',
        says: `Overall the values spread ${figure(doubt.ratio, 2)} times as wide as within samples: what is delivered is worse than Cp says.`,
      };
    case 'limits_stale':
      return { name: 'Limits to look at', says: 'The limits in force no longer describe the process.' };
    case 'set_aside':
      return {
        name: 'Left out',
        says: `${plural(doubt.samples, { one: '1 sample is', other: `${doubt.samples} samples are` })} set aside and not counted.`,
      };
  }
}

function specificationInWords({ lsl, usl }: CapabilityAnswer['specification'], decimals: number): string {
  if (lsl != null && usl != null) return `specification ${figure(lsl, decimals)} to ${figure(usl, decimals)}`;
  return lsl != null
    ? `specification from ${figure(lsl, decimals)} up`
    : `specification up to ${figure(usl, decimals)}`;
}

export const CAPABILITY = {
  against: 'The values against the specification',
  says: (a: CapabilityAnswer, decimals: number, unit: string) =>
    `${grouped(a.capability.n)} values in ${grouped(a.samples)} samples, mean ${figure(a.capability.mean, decimals + 1)} ${unit}, from ${figure(a.histogram.edges[0], decimals)} to ${figure(a.histogram.edges[a.histogram.edges.length - 1], decimals)}; ${specificationInWords(a.specification, decimals)}.`,
  count: 'Values',
  percent: 'Percent',
  scale: 'Height in',
  within: 'within samples',
  overall: (family: Family) => (family === 'normal' ? 'overall' : `overall, ${familyName(family)}`),
  spans: { specification: 'Specification', within: 'Six sigma within', overall: 'What 99.73 % take up' },
  bar: (from: string, to: string, count: number) =>
    `${from} to ${to}: ${plural(count, { one: '1 value', other: `${count} values` })}`,
  from: 'From',
  to: 'To',
  share: 'Share',
  figures: 'Indices',
  columns: { name: 'Index', value: 'Value', interval: '95 % interval' },
  withinSays: (sigma: string) => `Within samples, sigma ${sigma}: what the process could do`,
  overallSays: (sigma: string) => `Overall, sigma ${sigma}: what was delivered`,
  outside: 'Outside, of a million',
  rows: { below: 'Below LSL', above: 'Above USL' },
  ppm: { observed: 'Counted', within: 'Expected within', overall: 'Expected overall' },
  fit: 'Do the values follow this distribution?',
  plotSays: (family: Family, inside: boolean) =>
    inside
      ? `All values lie within the band of the ${familyName(family)} distribution.`
      : `Some values lie outside the band of the ${familyName(family)} distribution.`,
  families: 'Families by fit',
  family: 'Family',
  aic: 'AIC',
  a2: 'A²',
  chosen: 'taken',
  groups: 'Told apart',
  group: 'Part',
  samples: 'Samples',
  mean: 'Mean',
  sd: 's',
  tooFew: 'too few values',
  doubts: 'To be read with',
  noDoubts: 'Nothing speaks against these figures: stable, enough, normal, fine enough.',
};
