import type { Role } from '../api/client';
import { plural } from './numbers';

export const ROLES: Record<Role, string> = {
  technician: 'technician',
  supervisor: 'supervisor',
  engineer: 'engineer',
  administrator: 'administrator',
  reader: 'reader',
  device: 'device',
};

/** What a role is for, where it is chosen. */
export const ROLE_DOES: Record<Exclude<Role, 'device'>, string> = {
  technician: 'enters samples and answers signals',
  supervisor: 'reviews answers, releases and overrides runs, sets points aside',
  engineer: 'sets up, puts limits in force, and does what a supervisor does',
  administrator: 'looks after people; enters and reviews nothing',
  reader: 'reads charts, signals and the trail of the areas given, and changes nothing',
};

/** People and their accounts. */
export const PEOPLE = {
  title: 'People',
  about:
    'Who signs in, what part they play, and where. An account is never deleted: what was done in its name stays named.',
  what: 'the accounts',
  add: 'Add a person',
  of: (name: string) => `Change ${name}`,
  name: 'Name',
  login: 'Signs in as',
  role: 'Role',
  areas: 'Areas',
  stations: 'Stations beside those of the areas',
  nowhere: 'Belongs nowhere in particular: sees everything.',
  narrows: 'Rounds and Signals begin with these; everything else is a choice away.',
  reads: 'Sees these areas alone.',
  bound: 'Enters samples at these alone',
  keep: 'Keep',
  leave: 'Leave it',
  change: 'Change',
  password: 'Give a new password',
  passwordFor: (name: string) => `Give ${name} a new password`,
  pin: 'Take PIN and badge away',
  pinOf: (name: string) => `Take PIN and badge of ${name} away`,
  sessions: 'End sessions',
  sessionsOf: (name: string) => `End the sessions of ${name}`,
  close: 'Close the account',
  closeOf: (name: string) => `Close the account of ${name}`,
  reopen: 'Open again',
  reopenOf: (name: string) => `Open the account of ${name} again`,
  first: (name: string) => `The password of ${name}`,
  firstOnce:
    'It is shown this once. Hand it over; with it they sign in and choose a password of their own before anything else.',
  handedOver: 'It is handed over',
  closed: 'Closed',
  notYetChosen: 'has not chosen a password yet',
  hasPin: 'PIN',
  hasBadge: 'badge',
  signedIn: (sessions: number) =>
    plural(sessions, { one: 'signed in at one place', other: `signed in at ${sessions} places` }),
  everywhere: 'everywhere',
  alone: 'enters there alone',
  sure: (name: string) => `Close the account of ${name}? Their sessions end, and PIN and badge are taken away.`,
};

/** Choosing a password. */
export const PASSWORD = {
  title: 'Password',
  first: 'Choose a password of your own',
  firstAbout: 'The one you signed in with was made for you. Nothing else opens before you have chosen your own.',
  now: 'Your password until now',
  next: 'New password',
  again: 'New password once more',
  help: 'At least 10 characters, and not what many people take. A few words in a row are good.',
  differ: 'The two differ.',
  set: 'Choose it',
  done: 'The password is changed. Wherever else you were signed in, you no longer are.',
};

/** What lists begin with, for who belongs somewhere. */
export const WHOSE = { label: 'Whose', mine: 'My stations', all: 'All stations' };
