import { plural } from './numbers';

/** One's own PIN and badge, and this device. */
export const ME = {
  device: 'This device',
  density: 'How close things stand',
  densities: {
    device: 'As suits the device: compact with a mouse, roomy by touch',
    compact: 'Compact',
    roomy: 'Roomy',
  },
  entryIsRoomy: 'Where samples are entered it is always roomy.',
  shared:
    'A device that several people share locks when nobody touches it. Whoever signed in here once by password unlocks it by PIN or badge.',
  locks: 'Locks',
  never: 'Never: it is used by one person',
  after: (minutes: number) =>
    plural(minutes, { one: 'After a minute without a touch', other: `After ${minutes} minutes without a touch` }),
  password: 'Your password',
};

/** What one can show instead of the password. */
export const SECRETS = {
  pin: {
    title: 'PIN',
    help: '4 to 8 digits, for devices that several people share.',
    label: 'New PIN',
    set: 'Set the PIN',
    done: 'The PIN is set.',
  },
  badge: {
    title: 'Badge',
    help: 'The number as the reader reads it: 8 to 32 letters and digits.',
    label: 'New Badge',
    set: 'Set the Badge',
    done: 'The Badge is set.',
  },
};
