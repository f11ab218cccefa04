import { describe, expect, test } from 'vitest';
import { AWAY, type Code, Failure, type Fault } from '../api/failure';
import { step } from './step';

const failure = (code: Code, status: number) => new Failure({ code, params: {} } as Fault, status);

describe('an entry that did not go through', () => {
  test.each([
    ['no network', new Failure(AWAY), 0, 'all_wait'],
    ['the database is away', failure('database_away', 503), 2, 'all_wait'],
    ['a proxy without a server', new Failure(AWAY, 502), 9, 'all_wait'],
    ['the session has ended', failure('not_signed_in', 401), 0, 'all_wait'],
    ['a busy server', failure('busy', 429), 0, 'all_wait'],
    ['the server failed once', failure('internal', 500), 0, 'try_again'],
    ['and again', failure('internal', 500), 1, 'try_again'],
    ['and a third time', failure('internal', 500), 2, 'aside'],
    ['a reading that cannot be', failure('readings_refused', 422), 0, 'refused'],
    ['an id used before', failure('entry_reused', 409), 2, 'refused'],
  ])('%s', (_, failure, tries, expected) => {
    expect(step(failure, tries)).toBe(expected);
  });
});
