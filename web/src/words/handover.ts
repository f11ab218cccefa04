import { plural } from './numbers';
import { atClock, onDay } from './time';

/** The handover from shift to shift. */
export const HANDOVER = {
  title: 'Handover',
  what: 'the handover',
  shift: (name: string, began: string, ends: string) =>
    `${name} shift, ${onDay(began)}, ${atClock(began)} to ${atClock(ends)}`,
  before: 'Shift before',
  after: 'Shift after',
  print: 'Print',
  words: 'Words to the next shift',
  noWords: 'Nothing was left to say.',
  leave: 'Leave them',
  left: 'They are left for whoever comes next.',
  about: 'About',
  allAreas: 'All areas',
  write: 'What the next shift has to know',
  open: (count: number) =>
    plural(count, { zero: 'Nothing is open', one: 'One episode is open now', other: `${count} episodes are open now` }),
  dealtWith: (count: number) =>
    plural(count, {
      zero: 'No episode of this shift was answered',
      one: 'One episode of this shift was answered or reviewed',
      other: `${count} episodes of this shift were answered or reviewed`,
    }),
  more: 'Only the first 200 are listed. All of them stand under Signals.',
  skipped: (count: number) =>
    plural(count, {
      zero: 'No sample was skipped',
      one: 'One sample was skipped',
      other: `${count} samples were skipped`,
    }),
  changes: (count: number) =>
    plural(count, {
      zero: 'Limits and set-ups stayed as they were',
      one: 'One change of limits or set-ups',
      other: `${count} changes of limits and set-ups`,
    }),
  silent: (count: number) =>
    plural(count, { zero: 'No device is silent', one: 'One device is silent', other: `${count} devices are silent` }),
  silentSince: 'last heard',
  sample: (number: number) => `sample ${number}`,
  read: 'I have read this',
  readBy: 'Read by',
  nobodyRead: 'Nobody has confirmed yet that they have read this.',
};
