import type { CauseEntry, CauseGroup } from '../api/client';
import { plural } from './numbers';
import { when } from './time';

/** Where causes come from. */
export const CAUSE_GROUPS: Record<CauseGroup, string> = {
  machine: 'Machine',
  material: 'Material',
  method: 'Method',
  person: 'Person',
  measurement: 'Measurement',
  surroundings: 'Surroundings',
};

export const NO_GROUP = 'In no group yet';

/** The catalogue of causes. */
export const CAUSES = {
  title: 'Causes',
  about:
    'What an answer can name as its cause. A name stays as it is, so that what was answered reads as it was chosen; reword one by adding another and retiring the first.',
  what: 'the causes',
  none: 'No cause is in the catalogue yet.',
  proposed: 'Proposed',
  proposedBy: (person: string) => `proposed by ${person}`,
  retired: 'Retired',
  add: 'Add a cause',
  name: 'Cause',
  group: 'Group',
  area: 'Area',
  allAreas: 'All areas',
  keep: 'Keep',
  change: 'Change',
  changeOf: (name: string) => `Change ${name}`,
  take: 'Take it up',
  takeOf: (name: string) => `Take up ${name}`,
  retire: 'Retire',
  retireOf: (name: string) => `Retire ${name}`,
  bringBack: 'Use again',
  bringBackOf: (name: string) => `Use ${name} again`,
  sameAs: 'It says the same as',
  sayNone: 'None of these',
  leave: 'Leave it',
  sameAsNow: (name: string) => `the same as ${name}`,
};

/** How often a cause was named. */
export function named({ answers, last_at: last }: CauseEntry): string {
  const often = plural(answers, { one: 'named once', other: `named ${answers} times` });
  return last == null ? 'not named yet' : `${often}, last ${when(last)}`;
}
