import type { components } from './schema';

/** A failure as the server describes it. */
type Told = components['schemas']['Failure'];

/** A failure that happens before the server can say anything, or on the way to it. */
type Untold =
  /** The server could not be reached, or did not answer as itself. */
  | { code: 'away'; params: object }
  /** It answered with something that is no description of a failure. */
  | { code: 'unknown'; params: object }
  /** The device cannot keep what was entered. */
  | { code: 'device_is_full'; params: object }
  /** What was entered may still be taken back, and is not sent yet. */
  | { code: 'held'; params: object }
  /** What was entered before is tried again first. */
  | { code: 'behind_another'; params: object }
  /** The server failed at it each time, and the others have gone on. */
  | { code: 'stepped_aside'; params: object };

/** What went wrong, by its code, with its facts. */
export type Fault = Told | Untold;
export type Code = Fault['code'];
export type FactsOf<C extends Code> = Extract<Fault, { code: C }>['params'];

/** A failure on its way to whoever makes a sentence of it. */
export class Failure extends Error {
  constructor(
    readonly fault: Fault,
    /** HTTP status; 0 where the server did not answer. */
    readonly status = 0,
  ) {
    super(fault.code);
  }

  get code(): Code {
    return this.fault.code;
  }
}

export const AWAY: Fault = { code: 'away', params: {} };

/** The facts of a failure, if it is the one with this code. */
export function factsOf<C extends Code>(error: unknown, code: C): FactsOf<C> | null {
  return (error instanceof Failure && error.fault.code === code ? error.fault.params : null) as FactsOf<C> | null;
}

/** Whether something failed in just this way. */
export function isFailure(error: unknown, code: Code): boolean {
  return error instanceof Failure && error.fault.code === code;
}
