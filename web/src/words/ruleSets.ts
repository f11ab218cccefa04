import type { Replay, RuleSet } from '../api/client';
import { LOCALE } from './locale';
import { plural } from './numbers';
import { ruleSetName } from './plan';
import { onDay, when } from './time';

/** Named rule sets. */
export const RULE_SETS = {
  title: 'Rule sets',
  what: 'the rule sets',
  none: 'No rule set is named yet. Choose an own list of rules for a characteristic and keep it under a name, or name one here.',
  name: 'Name',
  add: 'Name a rule set …',
  doAdd: 'Name it',
  version: (version: number) => `version ${version}`,
  called: (name: string, version: number, newest: boolean) =>
    newest ? `${name}, version ${version}` : `${name}, version ${version}: there is a newer one`,
  made: (person: string, at: string) => `by ${person}, ${when(at)}`,
  usedBy: (n: number) => plural(n, { one: 'One characteristic uses it', other: `${n} characteristics use it` }),
  olderUsed: (n: number) =>
    plural(n, { one: 'one of them an older version.', other: `${n} of them an older version.` }),
  take: (n: number, version: number) =>
    plural(n, { one: `Let it take version ${version}`, other: `Let the ${n} take version ${version}` }),
  change: 'Change …',
  saveAs: (version: number) => `Save as version ${version}`,
  back: 'Back',
  keep: 'Keep these rules under a name …',
  keptBefore:
    'Whoever uses it keeps the version they have, and what was raised stays. The next samples are judged by the new rules where they are taken over.',
  sayName: 'Give it a name of 1 to 80 characters.',
  chooseOne: 'Choose at least one rule.',
  toAll: 'All rule sets',
  inWords: (rules: RuleSet) => ruleSetName(rules),
};

/** Which panels a rule looks at. */
export const PANELS = {
  label: 'on',
  all: 'all panels',
  location: 'not the spread',
  dispersion: 'the spread alone',
};

/** Rules replayed over history. */
export const REPLAY = {
  title: 'Replayed over its own history',
  since: 'Since',
  weeks: { 4: '4 weeks ago', 8: '8 weeks ago', 13: '13 weeks ago', 52: 'a year ago' } as Record<number, string>,
  none: 'Nothing was sampled in that time.',
};

const n = (count: number) => count.toLocaleString(LOCALE);

/** What rules would have done, a sentence each. */
export function replayInWords(told: Replay): string[] {
  const { points, episodes, found, missed, spared, raised_for_nothing: nothing, unknown, since } = told;
  if (points === 0) return [REPLAY.none];
  const samples = plural(points, { one: 'In 1 sample', other: `In ${n(points)} samples` });
  const raised = plural(episodes, { one: '1 episode', other: `${n(episodes)} episodes` });
  const withCause = plural(found + missed, {
    one: 'Of the one episode whose answer named a cause',
    other: `Of ${n(found + missed)} episodes whose answers named a cause`,
  });
  const without = plural(spared + nothing, {
    one: 'Of the one that ended in nothing found',
    other: `Of ${n(spared + nothing)} that ended in nothing found`,
  });
  return [
    `${samples} since ${onDay(since)} they would have raised ${raised}.`,
    ...(found + missed > 0 ? [`${withCause}, they would have found ${n(found)} and missed ${n(missed)}.`] : []),
    ...(spared + nothing > 0 ? [`${without}, they would have spared ${n(spared)}.`] : []),
    ...(unknown > 0
      ? [
          plural(unknown, {
            one: 'Of one nobody can tell: nothing was asked there.',
            other: `Of ${n(unknown)} nobody can tell: nothing was asked there.`,
          }),
        ]
      : []),
  ];
}
