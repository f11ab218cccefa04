import type { SeenPart } from '../api/client';
import { plural } from './numbers';
import { when } from './time';

/** Signing decisions, and the signatures that were given. */
export const SIGN = {
  title: 'Sign',
  toSign: (count: number) => plural(count, { one: 'Sign 1 decision', other: `Sign ${count} decisions` }),
  about: 'A decision counts from when it is made. The signature covers exactly what is listed and ticked here.',
  nothing: 'All your decisions are signed.',
  what: 'the decisions',
  tick: (name: string) => `Sign the decision on ${name}`,
  meaning: 'I have reviewed these episodes and decided as it stands here.',
  password: 'Password',
  pin: 'PIN',
  withPin: 'Sign with the PIN',
  withPassword: 'Sign with the password',
  decided: (at: string) => `decided ${when(at)}`,
  changedMeanwhile: 'Something was changed meanwhile. The list shows it as it stands now.',
};

export const SIGNATURES = {
  title: 'Signatures',
  one: (name: string, at: string) => `${name} signed ${when(at)}`,
  what: 'the signatures',
  nothing: 'Nothing has been signed yet.',
  covers: (count: number) => plural(count, { one: '1 decision', other: `${count} decisions` }),
  reviewed: 'Reviewed, and decided as it stands there.',
  changed: (parts: readonly SeenPart[]) =>
    `Changed since it was signed: ${parts.map((part) => PARTS[part]).join(', ')}.`,
  asSigned: 'As it was signed.',
  digest: 'SHA-256',
  signedAt: (at: string) => `signed ${when(at)}`,
  unsigned: 'not signed yet',
  back: 'All signatures',
};

const PARTS: Record<SeenPart, string> = {
  decision: 'the decision',
  signals: 'what was found',
  answers: 'what was answered',
  samples: 'the samples',
};
