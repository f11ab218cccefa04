import type { Failure } from '../api/failure';

/** So often the server may fail at an entry before it steps aside. */
export const TRIES = 3;

/** What an entry that did not go through means for the queue. */
export type Step =
  /** The server cannot be reached, or the person is not who sends: everything waits, in order. */
  | 'all_wait'
  /** The server failed at this entry: it is tried again, and what belongs to the same place waits behind it. */
  | 'try_again'
  /** The server failed at it too often: it steps aside, and the others go on. */
  | 'aside'
  /** The server says no for good: sent again as it is it would change nothing. */
  | 'refused';

/** `tries`: how often the server had failed at the entry before. */
export function step({ status }: Failure, tries: number): Step {
  if (status >= 400 && status < 500 && ![401, 408, 429].includes(status)) return 'refused';
  // 502 to 504: somebody before the server, or the server without its database.
  if (status < 500 || (status >= 502 && status <= 504)) return 'all_wait';
  return tries + 1 < TRIES ? 'try_again' : 'aside';
}
