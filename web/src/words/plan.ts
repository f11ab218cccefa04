import type { ChartKind, Preset, Recommendation, Rule, RuleSet } from '../api/client';
import { patternLabel } from './signals';

export const CHARTS: Record<ChartKind, string> = {
  i_mr: 'Individuals and moving range',
  xbar_r: 'Mean and range',
  xbar_s: 'Mean and s',
  median_r: 'Median and range',
  run: 'Run chart',
  ewma: 'Exponentially weighted moving average',
  cusum: 'Cumulative sums',
  moving_average: 'Moving average',
  between_within: 'Between and within subgroups',
  np: 'Number of nonconforming units (np)',
  p: 'Share of nonconforming units (p)',
  p_prime: 'Share of nonconforming units, scatter from the data (p′)',
  c: 'Number of nonconformities (c)',
  u: 'Nonconformities per unit (u)',
  u_prime: 'Nonconformities per unit, scatter from the data (u′)',
  g: 'Units between events (g)',
  t: 'Time between events (t)',
};

export function chartName(chart: ChartKind): string {
  return CHARTS[chart];
}

export const PRESETS: Record<Preset, string> = {
  limits_only: 'Beyond the limits, nothing else',
  western_electric: 'Western Electric: limits, 2 of 3, 4 of 5, eight on one side',
  nelson: 'Nelson: all eight patterns',
  seven_point: 'Limits, seven on one side, seven rising or falling',
};

export function ruleSetName(rules: RuleSet): string {
  if ('preset' in rules) return PRESETS[rules.preset];
  return rules.list.map((rule: Rule) => patternLabel(rule, null)).join('; ');
}

export const KINDS = {
  measured: 'A measured value of each piece',
  nonconforming_units: 'How many units do not conform: each counts once, whatever is wrong with it',
  nonconformities: 'How many flaws there are: one unit can have several',
  rare_event: 'That something rare happened: how far each event lies from the one before',
};

export const TAKEN = {
  consecutive: 'One after another, from one stream',
  spread: 'Spread over the time since the sample before',
  streams: 'One from each of several moulds, heads or machines',
};

export function reasonFor({ reason }: Recommendation): string {
  switch (reason.code) {
    case 'single_value':
      return 'A single value has no spread of its own; the difference to its neighbour shows it.';
    case 'few_pieces':
      return 'With few pieces their range says nearly as much as their standard deviation, and anybody can check it by hand.';
    case 'many_pieces':
      return 'With many pieces the range wastes most of what they say; the standard deviation uses all of them.';
    case 'units_constant':
      return 'Always the same number is inspected, so the number found can be plotted as it is.';
    case 'units_varying':
      return 'The number inspected varies, so only the share can be compared; its limits move with the number.';
    case 'flaws_constant':
      return 'Always the same amount is looked at, so the number of flaws can be plotted as it is.';
    case 'flaws_varying':
      return 'The amount looked at varies, so only flaws per unit can be compared; their limits move with the amount.';
    case 'rare_events':
      return 'Something so rare would be counted as none nearly every time; how many conforming units lie between two says more. Where nobody counts them, the time between does.';
    case 'over_dispersed':
      return `The ${reason.samples} counts so far scatter ${reason.ratio.toFixed(1)} times as much as chance alone allows; usual limits would cry wolf. The scatter between samples is taken from the data.`;
  }
}

export function cautionFor(caution: Recommendation['cautions'][number]): string {
  switch (caution) {
    case 'streams_mixed':
      return 'Different streams in one sample widen its range, and with it the limits: the chart goes blind. A characteristic for each stream sees more.';
    case 'spread_out':
      return 'Pieces spread over the time hide what happened within it. Pieces made one after another show a change sooner.';
    case 'few_inspected':
      return 'So few are inspected that most samples will have none. Inspect more at a time; it may then be less often.';
  }
}

/** A field of a set-up by the words that its form uses. */
export const FIELDS: Record<string, string> = {
  name: 'Name',
  kind: 'What is recorded',
  unit: 'Unit',
  decimals: 'Decimals',
  chart: 'Chart',
  subgroup_size: 'Pieces or units each time',
  varying: 'Always the same number',
  taken: 'Where the pieces come from',
  sampling: 'When a sample is due',
  options: 'Chart options',
  k: 'Limits at, in sigma',
  rule_set: 'Rules',
  named_rules: 'Rule set',
  hard_bounds: 'Can be measured',
  soft_bounds: 'Usual',
  specification: 'Specification',
  reaction_plan: 'Reaction plan',
  escalates_after: 'Raised to supervisors after (min)',
  asked_tags: 'Tags asked',
  labels: 'Labels',
  hidden: 'Hidden',
  feature: 'Feature',
  components: 'Reference components',
  defect_kinds: 'Kinds of defects',
  phase_events: 'Events that propose a phase',
  parts: 'Parts',
  scales: 'Scales of the chart',
  thresholds: 'Able from, barely able from',
};

/** Any value of a set-up in a few words. */
export function valueInWords(field: string, value: unknown): string {
  if (field === 'chart') return chartName(value as ChartKind);
  if (field === 'rule_set') return ruleSetName(value as RuleSet);
  if (field === 'sampling') return samplingInWords(value as Sampling);
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value))
    return value.length === 0
      ? 'none'
      : value.map((one) => (typeof one === 'string' ? one : (one as { name: string }).name)).join(', ');
  if (value === null || value === undefined || value === '') return 'none';
  if (typeof value === 'object') {
    const given = Object.entries(value).filter(([, x]) => x !== null);
    return given.length === 0 ? 'none' : given.map(([name, x]) => `${name} ${x as number}`).join(', ');
  }
  return typeof value === 'number' || typeof value === 'string' ? `${value}` : '';
}

export type Sampling =
  { every: 'minutes' | 'pieces'; count: number } | { every: 'lot' } | { every: 'shift' } | { every: 'never' };

export function samplingInWords(sampling: Sampling): string {
  switch (sampling.every) {
    case 'minutes':
      return sampling.count % 60 === 0 && sampling.count > 60
        ? `every ${sampling.count / 60} h`
        : `every ${sampling.count} min`;
    case 'pieces':
      return `every ${sampling.count} pieces`;
    case 'lot':
      return 'each lot';
    case 'shift':
      return 'once a shift';
    case 'never':
      return 'when it happens';
  }
}

/** A characteristic that is in no round, among others. */
export const hiddenOne = (called: string) => `${called} (hidden)`;
