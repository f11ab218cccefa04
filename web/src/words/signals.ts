import type { Broken, ChartKind, Decision, Side, SigmaSource, SignalState, Statistic } from '../api/client';
import { labMeaning, labRule } from './labRules';
import { capital, figure, inWords } from './numbers';
import { when } from './time';

const STATISTICS: Record<Statistic, [one: string, many: string]> = {
  mean: ['mean', 'means'],
  median: ['median', 'medians'],
  individual: ['value', 'values'],
  range: ['range', 'ranges'],
  sd: ['standard deviation', 'standard deviations'],
  moving_range: ['moving range', 'moving ranges'],
  proportion: ['share', 'shares'],
  count: ['count', 'counts'],
  rate: ['rate', 'rates'],
  ewma: ['weighted average', 'weighted averages'],
  cusum_up: ['upward sum', 'upward sums'],
  cusum_down: ['downward sum', 'downward sums'],
  moving_average: ['moving average', 'moving averages'],
  value: ['value', 'values'],
};

/** Where a sigma comes from. */
export const SIGMA_SOURCES: Record<SigmaSource, string> = {
  range: 'mean range',
  sd: 'mean standard deviation',
  mean_mr: 'mean moving range',
  median_mr: 'median moving range',
  overall: 'all values together',
  binomial: 'binomial distribution',
  poisson: 'Poisson distribution',
  geometric: 'geometric distribution',
  weibull: 'Weibull distribution',
  given: 'given',
  assigned: 'assigned value',
  none: 'no estimate',
};

export const STATES: Record<SignalState, string> = {
  sent_back: 'Sent back',
  open: 'Open',
  found_late: 'Found late',
  answered: 'Answered',
  reviewed: 'Reviewed',
};

export const DECISIONS: Record<Decision, string> = {
  accepted: 'Accepted',
  seen: 'Set as seen',
  overruled: 'Overruled',
  sent_back: 'Sent back',
};

/** Whether a panel shows how far readings scatter, not where they lie. */
export function isSpread(panel: Statistic): boolean {
  return panel === 'range' || panel === 'sd' || panel === 'moving_range';
}

export function panelName(statistic: Statistic): string {
  return capital(STATISTICS[statistic][0]);
}

/** What a panel shows, over it: of rare events and of parts more than the name of its statistic. */
export function panelTitle(
  statistic: Statistic,
  { chart, unit, parts }: { chart: ChartKind; unit: string; parts: readonly unknown[] },
): string {
  if (chart === 'g' || chart === 't') return `Between events, ${unit}`;
  if (parts.length > 0 && !isSpread(statistic)) return `${panelName(statistic)}, from nominal`;
  return panelName(statistic);
}

const isHigh = (side: Side | null | undefined) => side === 'above' || side === 'rising';
const height = (side: Side | null | undefined) => (side == null ? '' : isHigh(side) ? ', high' : ', low');

/** The wording of a span in the signal lane; of the dispersion panel it says so. */
export function spanLabel(rule: Broken, side: Side | null | undefined, panel: Statistic): string {
  const of = isSpread(panel) ? `${STATISTICS[panel][0]}: ` : '';
  return of + patternLabel(rule, side);
}

/** A pattern in a few words. */
export function patternLabel(rule: Broken, side: Side | null | undefined): string {
  switch (rule.kind) {
    case 'beyond':
      return `beyond the limit${height(side)}`;
    case 'one_side':
      return `${inWords(rule.n)} on one side${height(side)}`;
    case 'trend':
      return `${inWords(rule.n)} ${side === 'rising' ? 'rising' : 'falling'}`;
    case 'alternating':
      return `${inWords(rule.n)} up and down`;
    case 'm_of_n':
      return `${inWords(rule.m)} of ${inWords(rule.n)} beyond ${rule.k} sigma${height(side)}`;
    case 'hugging':
      return `${inWords(rule.n)} close to the centre`;
    case 'avoiding':
      return `${inWords(rule.n)} away from the centre`;
    case 'multirule':
      return rule.rule;
  }
}

/** What a sentence about a signal is made from. */
export interface SignalFacts {
  rule: Broken;
  side?: Side | null;
  panel: Statistic;
  from_number: number;
  to_number: number;
  /** Tested points of the pattern. */
  points: number;
  since: string;
}

/** What the points did, which points, since when. */
export function sentence(facts: SignalFacts): string {
  const { rule, side, from_number: from, to_number: to, points } = facts;
  const [one, many] = STATISTICS[facts.panel];
  const above = side === 'above' ? 'above' : 'below';
  const since = `since sample ${from} (${when(facts.since)})`;
  switch (rule.kind) {
    case 'beyond':
      if (isRareEvent(facts.panel))
        return `Sample ${to} (${when(facts.since)}) lies ${isHigh(side) ? 'farther from' : 'closer to'} the event before than the ${isHigh(side) ? 'upper' : 'lower'} control limit allows.`;
      return `The ${one} of sample ${to} (${when(facts.since)}) lies ${above} its ${isHigh(side) ? 'upper' : 'lower'} control limit.`;
    case 'one_side':
      return `${capital(inWords(points))} ${many} in a row lie ${above} the centre line, ${since}.`;
    case 'trend':
      return `${capital(inWords(points))} ${many} in a row ${side === 'rising' ? 'rise' : 'fall'}, ${since}.`;
    case 'alternating':
      return `${capital(inWords(points))} ${many} in a row go up and down by turns, ${since}.`;
    case 'm_of_n':
      return `At least ${inWords(rule.m)} of ${inWords(rule.n)} ${many} in a row lie more than ${rule.k} sigma ${above} the centre line, ${since}.`;
    case 'hugging':
      return `${capital(inWords(points))} ${many} in a row lie within ${rule.k} sigma of the centre line, ${since}.`;
    case 'avoiding':
      return `${capital(inWords(points))} ${many} in a row lie more than ${rule.k} sigma away from the centre line, ${since}.`;
    case 'multirule':
      return `Sample ${to} (${when(facts.since)}) breaks ${labRule(rule.rule)}.`;
  }
}

/** Only rare events have limits on a panel of bare values; run charts have none. */
const isRareEvent = (panel: Statistic) => panel === 'value';

/** What such a pattern usually means. */
export function meaning(rule: Broken, panel: Statistic): string {
  const spread = isSpread(panel);
  switch (rule.kind) {
    case 'beyond':
      if (isRareEvent(panel)) return 'Such events come at another pace than they did.';
      return spread
        ? 'One sample scatters unlike the others: a single piece, a slip of the gauge, or two streams mixed.'
        : 'Something acted on this sample alone: a wrong piece, a slip of the gauge, or a sudden change.';
    case 'one_side':
      return spread
        ? 'The spread of the process has changed.'
        : 'The process mean has moved and stays there: material, setting, tool.';
    case 'm_of_n':
      return rule.m === 2
        ? 'The process mean may have made a large move.'
        : 'The process mean may have made a small move.';
    case 'trend':
      return 'Something wanders: wear, warming up, settling.';
    case 'alternating':
      return 'Two causes act by turns: two machines, two gauges, two people.';
    case 'hugging':
      return 'The limits are too wide for this process, or a sample mixes different streams.';
    case 'avoiding':
      return 'Samples come from two processes in turn.';
    case 'multirule':
      return labMeaning(rule.rule);
  }
}

/** A figure of a panel: shares in percent, counts and rates with the digits they need. */
export function panelFigure(statistic: Statistic, value: number | null | undefined, decimals: number): string {
  switch (statistic) {
    case 'proportion':
      return value == null ? figure(value, 0) : `${figure(value * 100, 1)} %`;
    case 'rate':
      return figure(value, 3);
    default:
      // Limits and statistics are computed; one decimal more than the readings have tells them apart.
      return figure(value, decimals + 1);
  }
}

/** The figures a signal was raised against. */
export function raisedAgainst(signal: {
  panel: Statistic;
  center: number;
  sigma?: number | null;
  k: number;
  decimals: number;
  unit: string;
  trial: boolean;
}): string {
  const state = signal.trial ? 'trial limits' : 'limits in force';
  const drawn = `drawn at ${signal.k} sigma`;
  const centre = `centre ${panelFigure(signal.panel === 'count' ? 'rate' : signal.panel, signal.center, signal.decimals)}`;
  if (signal.sigma == null) return `Raised against ${state}: ${centre}, ${drawn}.`;
  return `Raised against ${state}: ${centre} ${signal.unit}, sigma ${figure(signal.sigma, signal.decimals + 2)} ${signal.unit}, ${drawn}.`;
}
