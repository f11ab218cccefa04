import type { Arrange, Looked } from '../api/client';
import { plural } from './numbers';

/** Looking at points otherwise than they are judged. */
export const LOOKING = {
  open: 'Look at it otherwise …',
  title: (name: string) => `${name}, looked at otherwise`,
  what: 'the points',
  toChart: 'To the chart',
  onlyLooking:
    'For looking only: limits are computed from the points shown here, nothing is changed, and nothing raised.',
  chart: 'Chart',
  ownChart: (name: string) => `${name}, as it is judged`,
  k: 'Limits at',
  ownK: (k: number) => `${k} sigma, as it is judged`,
  atSigma: (k: number) => `${k} sigma`,
  rules: 'Rules',
  ownRules: 'Its own, as it is judged',
  defect: 'Counted',
  allDefects: 'All kinds together',
  tag: 'By tag',
  noTag: 'All together',
  arrange: 'Arranged as',
  arranges: {
    side_by_side: 'a chart for each, side by side',
    phases: 'a phase for each, on one chart',
    marks: 'a mark for each, in the order of time',
  } satisfies Record<Arrange, string>,
  limits: 'Limits',
  whose: { own: 'of each value', common: 'of all together' },
  last: 'Points',
  lastOf: (n: number) => `the last ${n}`,
  none: 'No point has this tag.',
  leftOut: (n: number) =>
    plural(n, {
      one: '1 point is not shown: it has no such tag, or a value seldom seen.',
      other: `${n} points are not shown: they have no such tag, or a value seldom seen.`,
    }),
  points: (n: number) => plural(n, { one: '1 point', other: `${n} points` }),
  tooFew: 'too few points for limits',
  figures: 'Figures',
  columns: {
    value: 'Value',
    points: 'Points',
    centre: 'Centre',
    sigma: 'Sigma',
    patterns: 'Patterns that break rules',
  },
};

/** How many patterns break rules within a stretch of a chart. */
export function patternsIn(drawing: Looked['drawings'][number], start: number, end: number): number {
  return drawing.patterns.filter(({ to }) => start <= to && to <= end).length;
}
