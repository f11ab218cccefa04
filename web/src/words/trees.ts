import type { CauseTreeRow, IdeaState, Origin } from '../api/client';
import { plural } from './numbers';
import { when } from './time';

export const IDEA_STATES: Record<IdeaState, string> = {
  idea: 'Idea',
  to_check: 'To check',
  ruled_out: 'Ruled out',
  found_true: 'Found true',
};

/** A shape beside each word. */
export const IDEA_MARKS: Record<IdeaState, string> = { idea: '○', to_check: '◐', ruled_out: '✕', found_true: '●' };

export const TREES = {
  title: 'Cause trees',
  what: 'the cause trees',
  aTree: 'the cause tree',
  none: 'No cause tree is started yet. Start one from a kind of defect, an episode or a study, or here.',
  start: 'Start a cause tree',
  startIt: 'Start',
  problem: 'The problem, in a few words',
  branches: 'Branches',
  six: 'The six groups of causes',
  own: 'Your own',
  firstBranch: 'First branch',
  columns: { name: 'Problem', about: 'Seen at', made: 'Started', stands: 'Stands' },
  made: (at: string, by: string) => `${when(at)}, ${by}`,
  stands: ({ ideas, to_check: toCheck, found_true: found, overdue }: CauseTreeRow) =>
    [
      plural(ideas, { zero: 'no idea yet', one: '1 idea', other: `${ideas} ideas` }),
      toCheck > 0 && `${toCheck} to check`,
      found > 0 && `${found} found true`,
      overdue > 0 && `${overdue} overdue`,
    ]
      .filter((part) => part !== false)
      .join(', '),
  facts: {
    what: 'What is wrong',
    place: 'Where, and where not',
    since: 'Since when',
    share: 'How much of the whole',
    cost: 'What it costs',
  },
  statement: 'The problem',
  notKnown: 'not known yet',
  ideas: 'Ideas',
  draw: 'Draw it',
  drawn: 'The tree',
  copy: 'Copy for the next team',
  copyOf: 'The tree it was copied from',
  copyName: (name: string) => `${name}, again`.slice(0, 80),
  print: 'Print',
  saved: 'All is kept.',
  saving: 'Being kept …',
  away: 'Not kept yet: it goes through when the network is back.',
  refused: 'Not kept: ',
  idea: (text: string, level: number, under: string) =>
    level === 1 ? `Branch ${text}` : `${text === '' ? 'New idea' : text}, level ${level}, under ${under}`,
  branch: 'Branch',
  empty: 'What may cause it?',
  hints: [
    { keys: ['Enter'], does: 'next' },
    { keys: ['Tab'], does: 'under the one above' },
    { keys: ['Shift', 'Tab'], does: 'back out' },
    { keys: ['↑', '↓'], does: 'go' },
    { keys: ['Alt', '↑', '↓'], does: 'move' },
    { keys: ['Alt', '1', '…', '4'], does: 'how it stands' },
    { keys: ['Backspace'], does: 'takes out an empty one' },
    { keys: ['Esc'], does: 'leaves the list' },
  ],
  details: 'About this idea',
  chooseOne: 'Choose an idea to see and say more of it.',
  state: 'How it stands',
  owner: 'Who finds out',
  nobody: 'Nobody yet',
  due: 'Until',
  evidence: 'Evidence',
  says: 'What it shows',
  path: 'Link from this site',
  pathHint: 'Copy it from the address of a chart, a study, an episode or a file.',
  add: 'Add',
  takeAway: 'Take away',
  actions: 'What is done about it',
  action: 'Action',
  actionOwner: 'Who',
  checkOn: 'Looked at on',
  outcome: 'What was seen then',
  takeOut: 'Take it out, with all below',
  catalogue: 'Into the catalogue of causes',
  catalogueName: 'Name of the cause',
  catalogueGroup: 'Group',
  catalogued: 'It is in the catalogue of causes.',
  changedBy: (by: string, at: string) => `Last changed by ${by}, ${when(at)}.`,
  theirs: (by: string, text: string) => `${by} changed this meanwhile to “${text}”.`,
  gone: (text: string) => `“${text}” was taken out by somebody else meanwhile; what you typed there is not kept.`,
  keepMine: 'Keep mine',
  takeTheirs: 'Take theirs',
  inWords: (name: string, ideas: number, found: number) =>
    `${name}: ${plural(ideas, { one: '1 idea', other: `${ideas} ideas` })}, ${found} found true.`,
};

export function originInWords(origin: Origin): string {
  switch (origin.from) {
    case 'defect':
      return `Started from the defects ${origin.kind}`;
    case 'episode':
      return 'Started from an episode';
    case 'study':
      return 'Started from a study';
  }
}
