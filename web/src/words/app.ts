import { plural } from './numbers';

/** The frame around every page. */
export const FRAME = {
  name: 'Nuvek',
  page: 'the page',
  skip: 'Skip to content',
  places: 'Places',
  place: {
    rounds: 'Rounds',
    charts: 'Charts',
    signals: 'Signals',
    lab: 'Lab',
    handover: 'Handover',
    studies: 'Studies',
    data: 'Data',
    reports: 'Reports',
    plan: 'Plan',
    trail: 'Trail',
    people: 'People',
  },
  open: 'open',
  openTooLong: (count: number) => `${count} open too long`,
  waits: (n: number) => plural(n, { one: '1 waits on this device', other: `${n} wait on this device` }),
  mode: { light: 'Light', dark: 'Dark' },
  switchTo: { light: 'Switch to light', dark: 'Switch to dark' },
  switchPerson: 'Switch person',
  more: 'More',
  signOut: 'Sign out',
  away: 'The server cannot be reached. What is shown may be out of date; what you enter is kept on this device.',
  ended: 'The session has ended. What you typed is kept.',
  signIn: 'Sign in',
  tryAgain: 'Try again',
  nothingHere: 'There is nothing at this address. Choose a place above.',
  lateSignal: (title: string) => `${title} has gone through, and asks for an answer.`,
  lateRun: (title: string) => `${title} has gone through, and is rejected.`,
  answerIt: 'Answer it',
  seeRun: 'See the run',
  later: 'Later',
};

/** Keys that work while nothing is typed, by place. */
export const KEYS: readonly [where: string, keys: readonly (readonly [key: string, does: string])[]][] = [
  [
    'Everywhere',
    [
      ['?', 'shows this list'],
      ['Esc', 'one step back; what is typed stays'],
    ],
  ],
  ['Rounds', [['N', 'opens the most urgent characteristic']]],
  [
    'Entry',
    [
      ['Enter', 'next reading; on the last one saves'],
      ['Letters', 'count one of their kind, digits before them so many'],
      ['U', 'takes the last count back'],
    ],
  ],
  [
    'Chart',
    [
      ['← →', 'choose a point'],
      ['Home End', 'first and last point'],
      ['+ −', 'zoom'],
      ['Page up, Page down', 'move along'],
      ['0', 'shows all'],
    ],
  ],
];

export const KEYS_TITLE = 'Keys';

/** Arriving and coming back. */
export const SIGN_IN = {
  name: 'Name',
  nameMissing: 'The name is missing.',
  password: 'Password',
  passwordMissing: 'The password is missing.',
  signIn: 'Sign in',
  locked: 'Locked',
  kept: 'What was typed is kept for who typed it.',
  whoIsKnown: 'who is known here',
  ended: 'The session has ended',
  stillHere: 'What you typed is still here. Sign in to go on.',
  pin: 'PIN',
  badge: 'Badge',
  holdBadge: 'Hold the badge to the reader, or choose a name.',
  goOn: 'Go on',
  somebodyElse: 'Somebody else',
  byPassword: 'Name and password',
};
