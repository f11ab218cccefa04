import { when } from './time';

/** What waits on a device, by what it is. */
const WHAT = {
  sample: 'Sample',
  gap: 'Skipped',
  event: 'What happened',
  run: 'Control run',
  pieces: 'Pieces counted',
  answer: 'Answer',
  addition: 'Addition to an answer',
};

export function enteredInWords(what: keyof typeof WHAT, at: string, person: string): string {
  return `${WHAT[what]}, entered ${when(at)} by ${person}`;
}

export const WAITING = {
  title: 'Waiting on this device',
  about:
    'Entries go through by themselves, in order and once, as soon as the server can be reached. Each keeps the time it was entered.',
  nothing: 'Nothing waits. All that was entered here is on the server.',
  whenThere: (person: string) => `It goes through when ${person} signs in on this device.`,
  halfTyped: 'Another is half typed there.',
  saveOrClear: 'Save it or clear it first',
  itWasThen: 'Keep it, it was then',
  measuredSo: 'Keep it, measured so',
  sendAgain: 'Send it again',
  typeAgain: 'Type it again',
  giveUp: 'Give it up …',
  giveUpForGood: 'Give it up for good',
};
