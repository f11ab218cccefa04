import type { Distribution, DistributionAnswer } from '../api/client';
import { figure, grouped, plural } from './numbers';
import { familyName } from './studies';

/** Parameters as they are called in the trade. */
const PARAMETERS = {
  mean: 'mean',
  sd: 's',
  mu: 'mean of ln x',
  sigma: 's of ln x',
  shape: 'shape',
  scale: 'scale',
  location: 'location',
};

const share = (x: number) => `${figure(100 * x, x > 0 && (x < 0.01 || x > 0.99) && x < 1 ? 2 : 1)} %`;

export const DISTRIBUTION = {
  which: 'Which distribution do the values of',
  follow: 'follow?',
  taken: 'Distribution taken',
  fitted: 'Fitted',
  parameters: {
    mean: 'Mean',
    sd: 's',
    mu: 'Mean of ln x',
    sigma: 's of ln x',
    shape: 'Shape',
    scale: 'Scale',
    location: 'Location',
  },
  start: 'From a start of its own',
  withoutStart: 'Not tried',
  withStart: 'Tried, too',
  keep: 'Values kept',
  keepAll: 'All',
  keepBetween: (p: number) => `Between ${share(p)} and ${share(1 - p)}`,
  constants: 'Between two values',
  from: 'From value',
  to: 'Up to value',
  noEnd: 'No end',
  drawn: 'Drawn one by one',
  lastDrawn: (n: number) => `The last ${n} samples`,
  drawing: 'The values, and the last samples as they came',
  figures: 'Figures',
  n: 'Values',
  leftOut: 'Left out, below and above',
  ends: ['Smallest', 'Median', 'Largest'],
  normal: 'Normal: p of A*²',
  a2: 'A² of what is taken',
  quantiles: 'Which share lies below',
  below: 'Share',
  value: 'Value',
  seen: 'Of these values',
  belowThat: (value: string) => `Below ${value}`,
  share,
  drawBeside: 'A family that is chosen here is drawn beside the one that is taken.',
  isTaken: (of: Distribution) => {
    const order = Object.keys(PARAMETERS);
    const given = Object.entries(of.parameters).sort(([a], [b]) => order.indexOf(a) - order.indexOf(b));
    const parameters = given.map(([name, x]) => {
      const called = PARAMETERS[name as keyof typeof PARAMETERS];
      return `${called} ${Number(x.toPrecision(5))}`;
    });
    const name = familyName(of.family);
    return `${name.charAt(0).toUpperCase()}${name.slice(1)}: ${parameters.join(', ')}`;
  },
  says: ({ n, about, ends, mean, drawn }: DistributionAnswer) => {
    const d = about.decimals;
    return `${grouped(n)} values, mean ${figure(mean, d + 1)} ${about.unit}, from ${figure(ends[0], d)} to ${figure(ends[2], d)}; below the bars the last ${plural(drawn.length, { one: 'sample', other: `${drawn.length} samples` })}, the newest on top.`;
  },
};

/** Why this distribution was taken, and what was left out. */
export function reasonInWords(answer: DistributionAnswer): string[] {
  const { reason, left_out: leftOut, set_aside: aside, n } = answer;
  const sentences: string[] = [];
  if (reason.because === 'lowest_aic') {
    const next =
      reason.next == null || reason.by == null
        ? 'no other family holds all values'
        : `the next is ${familyName(reason.next)}, ${figure(reason.by, 1)} higher`;
    sentences.push(`It fits best: its AIC is the lowest; ${next}.`);
    if (reason.alike.length > 0)
      sentences.push(
        `These values cannot tell it from ${reason.alike.map(familyName).join(', ')}: less than 2 of AIC lies between them.`,
      );
  } else if (reason.because === 'chosen') {
    sentences.push(
      reason.best == null || reason.by == null
        ? 'It was chosen by hand, and none fits better.'
        : `It was chosen by hand; ${familyName(reason.best)} fits better, by ${figure(reason.by, 1)} of AIC.`,
    );
  } else {
    sentences.push('Its parameters were typed, not found from these values.');
  }
  if (!answer.inside)
    sentences.push('Some values lie outside the band that chance leaves: in the tails it is to be read with care.');
  const out = leftOut[0] + leftOut[1];
  if (out > 0)
    sentences.push(
      `${plural(out, { one: '1 value was', other: `${grouped(out)} values were` })} left out by the filter, ${leftOut[0]} below and ${leftOut[1]} above; ${grouped(n)} are kept.`,
    );
  if (aside > 0)
    sentences.push(
      `${plural(aside, { one: '1 sample is', other: `${aside} samples are` })} set aside and not counted.`,
    );
  return sentences;
}
