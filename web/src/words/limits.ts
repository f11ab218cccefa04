import type { Basis, LimitsState, PathFinding, Statistic, Unfit } from '../api/client';
import { chartName } from './plan';
import { LOCALE } from './locale';
import { figure, plural } from './numbers';
import { panelName, patternLabel } from './signals';
import { when } from './time';

/** How far limits have come. */
export const LIMITS_STATES: Record<LimitsState, string> = {
  trial: 'on trial',
  in_force: 'in force',
  retired: 'retired',
};

/** What can be said of a point. */
export const POINT_DEEDS = {
  setAside: 'Set aside …',
  takeBack: 'Take back',
  restart: 'Restart the rules here …',
  undoRestart: 'Undo the restart',
  startPhase: 'Start a phase here …',
  isAside: (person: string, at: string, because: string) => `Set aside by ${person}, ${when(at)}: ${because}`,
  isRestart: (person: string, at: string, because: string) => `Restart by ${person}, ${when(at)}: ${because}`,
  cause: 'Cause',
  otherCause: 'Another cause, in words',
  sayCause: 'Choose a cause, or say it in a few words.',
  whatCorrected: 'What was corrected',
  sayCorrected: 'Say what was corrected.',
  phaseName: 'Name of the phase',
  sayName: 'Give a name of 1 to 80 characters.',
  with: 'Limits of the phase',
  withTrial: 'On trial, from its own points',
  withCarried: 'Those of the phase before, carried over',
  withGiven: 'Given figures',
  center: 'Centre',
  sigma: 'Sigma',
  source: 'Where the figures come from',
  saySource: 'Say where the figures come from.',
  numberNeeded: 'A number is needed.',
  do: { aside: 'Set aside', restart: 'Restart here', phase: 'Start the phase' },
  back: 'Back',
  tooLong: 'This is longer than 2000 characters.',
};

/** The path of limits. */
export const LIMITS = {
  limits: 'the limits',
  title: (name: string) => `Limits of ${name}`,
  toChart: 'To the chart',
  toLimits: 'Limits',
  chart: 'Chart under the revised limits',
  noPoints: 'No point yet that limits could be taken from. The first samples start them.',
  usesAll: (points: number) =>
    `The path uses all ${plural(points, { one: '1 point', other: `${points} points` })} of the phase. Judging on trial uses the latest 200.`,
  usesStretch: (points: number) =>
    plural(points, {
      one: 'The path uses 1 point, a stretch of the phase.',
      other: `The path uses ${points} points, a stretch of the phase.`,
    }),
  judging: (done: number, total: number) =>
    `${total.toLocaleString(LOCALE)} points are being judged again; ${Math.min(100, Math.floor((100 * done) / total))} % are read. Until then everything stands as it was.`,
  judgingFailed:
    'The last change could not be made: something else changed meanwhile. Nothing of it was done; make it again.',
  trialBeside: 'with all',
  figures: 'Figures',
  columns: { trial: 'With all points', revised: 'Without those set aside', inForce: 'In force' },
  rows: {
    centre: 'Centre',
    sigma: 'Sigma',
    between: 'Sigma between',
    shape: 'Shape',
    scale: 'Scale, h',
    used: 'Points used',
    out: 'Points out',
  },
  line: (panel: Statistic, line: 'lower' | 'center' | 'upper') =>
    `${panelName(panel)}: ${{ lower: 'LCL', center: 'CL', upper: 'UCL' }[line]}`,
  out: (out: number, of: number) => `${out} of ${of} (${figure((100 * out) / Math.max(1, of), 1)} %)`,
  asideSince: (points: number) =>
    plural(points, {
      one: 'Since they were put in force 1 point that they rest on was set aside. They have not moved; take new ones to leave it out.',
      other: `Since they were put in force ${points} points that they rest on were set aside. They have not moved; take new ones to leave these out.`,
    }),
  tooFew: 'There are too few points for limits so far, or they do not differ.',
};

/** The points that break rules, one after another. */
export const PATH_POINTS = {
  title: 'Points that break rules',
  none: 'No point breaks a rule under these limits, and none is set aside.',
  place: (n: number, of: number) => `${n} of ${of}`,
  left: (n: number) => plural(n, { one: '1 still to be looked at', other: `${n} still to be looked at` }),
  next: 'Next',
  previous: 'Previous',
  keep: 'Keep it',
  kept: 'Kept: it counts.',
  takeBack: 'Take back',
  asideWith: 'Set aside, since:',
  inWords: 'In words',
  setAside: 'Set aside',
  answeredBy: (person: string, cause: string, action: string) => `${person} answered: ${cause}. ${action}`,
  nothingFound: 'looked, nothing found',
  happened: 'Happened before it',
  sayCause: 'Say the cause in a few words.',
};

/** What keys do on the path. */
export const PATH_KEYS = [
  { keys: ['1', '…', '9'], does: 'set aside with that cause' },
  { keys: ['K'], does: 'keep' },
  { keys: ['T'], does: 'take back' },
  { keys: ['N', 'P'], does: 'next, previous' },
];

/** A rule that a point breaks, in a line. */
export function broken(finding: PathFinding): string {
  const label = `${panelName(finding.panel)}: ${patternLabel(finding.rule, finding.side)}`;
  return finding.from_number === finding.to_number
    ? label
    : `${label}, samples ${finding.from_number} to ${finding.to_number}`;
}

/** What speaks against limits from these points. */
export function unfitInWords(unfit: Unfit): string {
  switch (unfit.code) {
    case 'unstable':
      return plural(unfit.signals, {
        one: 'One signal stands against these limits: the process was not steady while they were taken.',
        other: `${unfit.signals} signals stand against these limits: the process was not steady while they were taken.`,
      });
    case 'few_points':
      return `Only ${unfit.used} points are used. From fewer than ${unfit.wanted}, limits come out too wide or too narrow by chance.`;
    case 'not_normal':
      return `The values are far from normal (p ${figure(unfit.p, 4)}): limits at so many sigma promise less than they seem to.`;
    case 'coarse':
      return `The ranges take only ${unfit.distinct} different values: the unit of measurement is too coarse for a good sigma.`;
    case 'few_found':
      return `So little is found, ${figure(unfit.expected, 2)} in a sample, that its limits say little. Inspect more each time.`;
    case 'over_dispersed':
      return `The counts scatter ${figure(unfit.ratio, 1)} times as much as chance alone allows (p ${figure(unfit.p, 4)}). ${chartName(unfit.suggests)} allows for it.`;
  }
}

/** Putting limits in force. */
export const PUT_IN_FORCE = {
  title: 'Put in force',
  revisesTitle: 'Revise',
  revises: 'These limits are in force. Revised ones begin a phase of their own.',
  retired: 'A later phase has begun; its limits are the ones to revise.',
  from: 'Where they come from',
  basis: {
    phase: 'Points not set aside',
    stretch: 'A stretch of them',
    chosen: 'Some of them, by number',
    given: 'Given figures',
    copied: 'Another characteristic',
  } satisfies Record<Basis['from'], string>,
  firstSample: 'First sample, by number',
  lastSample: 'Last sample, by number',
  samples: 'Samples, by number, with commas',
  centre: 'Centre',
  sigma: 'Sigma',
  sigmaBetween: 'Sigma between',
  shape: 'Shape',
  scale: 'Scale, h',
  source: 'Where the figures come from',
  copyOf: 'Copy the limits of',
  lower: 'Constant LCL',
  upper: 'Constant UCL',
  insteadOf: 'Left empty, both are computed.',
  nextSample: 'Left empty, from the next sample.',
  beginsAt: 'They hold from sample number',
  name: 'Name',
  remark: 'Remark',
  nextLook: 'Look at them again on',
  speaksAgainst: 'What speaks against them',
  reason: 'Why they are put in force all the same',
  sayReason: 'Say why they are put in force although this speaks against them.',
  noSuchSample: 'There is no such sample in this phase.',
  numberNeeded: 'A number is needed.',
  sayName: 'Give a name of 1 to 80 characters.',
  saySource: 'Say where the figures come from.',
  do: 'Put in force',
  done: 'The limits are in force.',
};

/** Narrowing the path to a stretch. */
export const STRETCH = {
  title: 'A stretch of the phase',
  first: 'From sample number',
  last: 'To sample number',
  use: 'Use this stretch',
  all: 'Use all of the phase',
};

/** Phases in a table. */
export const PHASES = {
  title: 'Phases',
  columns: {
    name: 'Phase',
    since: 'Since',
    state: 'Limits',
    centre: 'Centre',
    sigma: 'Sigma',
    points: 'Points',
    aside: 'Set aside',
    signals: 'Signals',
    change: 'Change',
  },
  since: (number: number | null | undefined, at: string) =>
    number == null ? when(at) : `sample ${number}, ${when(at)}`,
  look: 'Look at',
  rename: 'Rename …',
  move: 'Move its start …',
  merge: 'Merge into the phase before',
  newName: 'Name',
  newStart: 'Starts at sample, by number',
  save: 'Save',
  back: 'Back',
};
