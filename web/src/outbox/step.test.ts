import { describe, expect, test } from 'vitest';
import { AWAY, Failure } from '../api/client';
import { step } from './step';

describe('an entry that did not go through', () => {
  test.each([
    ['no network', new Failure(AWAY), 0, 'all_wait'],
    ['the database is away', new Failure('database_away', {}, 503), 2, 'all_wait'],
    ['a proxy without a server', new Failure(AWAY, {}, 502), 9, 'all_wait'],
    ['the session has ended', new Failure('not_signed_in', {}, 401), 0, 'all_wait'],
    ['a busy server', new Failure('busy', {}, 429), 0, 'all_wait'],
    ['the server failed once', new Failure('internal', {}, 500), 0, 'try_again'],
    ['and again', new Failure('internal', {}, 500), 1, 'try_again'],
    ['and a third time', new Failure('internal', {}, 500), 2, 'aside'],
    ['a reading that cannot be', new Failure('readings_refused', {}, 422), 0, 'refused'],
    ['an id used before', new Failure('entry_reused', {}, 409), 2, 'refused'],
  ])('%s', (_, failure, tries, expected) => {
    expect(step(failure, tries)).toBe(expected);
  });
});
