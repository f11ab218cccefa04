import type { AnalyteJudgement, Outcome, RunView } from '../api/client';
import { LAB_RULES, list } from './labRules';
import { inWords } from './numbers';
import { when } from './time';

export const OUTCOMES: Record<Outcome, string> = {
  accepted: 'Accepted',
  warning: 'Accepted, with a warning',
  incomplete: 'Incomplete',
  rejected: 'Rejected',
};

/** The same where there is little room. */
export const OUTCOMES_IN_SHORT: Record<Outcome, string> = { ...OUTCOMES, warning: 'Warning' };

export function missingInWords(missing: readonly string[]): string {
  return `Not measured: ${list(missing)}.`;
}

/** A shape for each outcome, beside its word. */
export const OUTCOME_MARKS: Record<Outcome, string> = { accepted: '✓', warning: '◆', incomplete: '◇', rejected: '▲' };

/** What broke the rules of one analyte, a sentence each; the milder rule is not said where a sharper one says it. */
export function findingsInWords({ findings }: Pick<AnalyteJudgement, 'findings'>): string[] {
  const rejects = findings.filter((f) => f.rule !== '1-2s');
  const said = rejects.length > 0 ? rejects : findings;
  return said.map(({ rule, levels, runs }) => {
    const where = levels.length > 0 ? `, ${list(levels)}` : '';
    return `${LAB_RULES[rule]} (${rule})${where}${runs > 1 ? `, over ${inWords(runs)} runs` : ''}`;
  });
}

/** Where a run stands, in a few words. */
export function runStanding(run: Pick<RunView, 'released' | 'repeated_by' | 'overridden' | 'verdict'>): string {
  if (run.released) return `released ${when(run.released.at)} by ${run.released.person}`;
  if (run.repeated_by) return `repeated by run ${run.repeated_by.number}`;
  if (run.overridden) return `overridden by ${run.overridden.person}, waits for release`;
  return run.verdict === 'rejected' ? 'to be repeated' : 'waits for release';
}

/** Distance from the mean in sd, with its sign. */
export function sdApart(z: number): string {
  return `${z < 0 ? '−' : '+'}${Math.abs(z).toFixed(2)} sd`;
}

/** The laboratory's queue. */
export const LAB_QUEUE = {
  title: 'Runs to review',
  what: 'the runs',
  toReview: 'To review',
  reviewed: 'Reviewed before',
  which: 'Which runs',
  none: 'No run waits for a review.',
  noneBefore: 'No run was reviewed yet.',
  mark: 'Mark as reviewed',
  markKey: 'M',
  later: 'Leave for later',
  laterKey: 'L',
  decide: (run: number, bench: string) => `Review of run ${run} of ${bench}`,
  many: (count: number) => `Mark the ${count} accepted ones …`,
  manyTitle: 'Accepted by rule, and waiting for a review',
  markMany: (count: number) => `Mark ${count} as reviewed`,
  leave: 'Leave them',
  refused: 'Not marked:',
  markOf: (run: number, bench: string) => `Mark run ${run} of ${bench} as reviewed`,
  remark: 'Remark, if there is one',
  own: 'You measured it: somebody else reviews it.',
  notYet: 'It waits for its release first.',
  more: 'Older runs',
  by: (person: string, at: string) => `reviewed by ${person}, ${when(at)}`,
  write: 'Write an action down',
  action: 'What was done about it',
  actions: 'Actions',
  noAction: 'No action is written down.',
  about: 'About',
  wholeRun: 'the whole run',
  keep: 'Write it down',
};

/** The laboratory's page of a bench. */
export const LAB = {
  laboratory: 'the laboratory',
  bench: 'Bench',
  controlRun: 'Control run',
  repeatOf: (run: number) => `Repeat of run ${run}`,
  runOfItsOwn: 'Measure a run of its own instead',
  looksOnly: 'Your role looks at runs and does not enter them.',
  latestRuns: 'Latest runs',
  figures: 'Figures by level and reagent lot',
  noRun: 'No run yet. The first one starts the charts.',
  run: (number: number) => `Run ${number}`,
  repeats: (number: number) => `repeats ${number}`,
  repeatsRun: (number: number) => `repeats run ${number}`,
  allCharts: 'All charts',
  nothingSetUp: 'Nothing is determined in runs yet.',
  setUpAnalyte: 'Set up an analyte',
  engineerFirst: 'An engineer sets up analytes in Plan.',
  chart: 'Chart',
  theChart: 'the chart',
  openWhole: 'Open the whole chart',
  levelChart: (analyte: string, level: string) => `${analyte}, ${level}: Levey-Jennings chart`,
};
