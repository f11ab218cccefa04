import { describe, expect, it } from 'vitest';
import type { ReadingRefusal } from '../api/client';
import { AWAY, Failure, type Fault } from '../api/failure';
import { refusal, sentenceFor, within } from './failures';

describe('a refused reading says what is wrong and what would be right', () => {
  it.each<[ReadingRefusal, string]>([
    [
      { code: 'not_a_number', piece: 2, given: 'abc' },
      '“abc” is not a number. Digits with a decimal point or comma are right.',
    ],
    [{ code: 'blank', piece: 2 }, 'Piece 2 has no reading yet.'],
    [
      { code: 'other_unit', piece: 1, given: 'in', expected: 'mm' },
      '“in” is another unit; this characteristic is measured in mm.',
    ],
    [{ code: 'inspected', given: '', expected: null }, 'How many were inspected is missing: a whole number from 1 up.'],
    [{ code: 'inspected', given: '9', expected: 10 }, 'Always 10 are inspected here.'],
    [
      { code: 'more_than_inspected', given: 5, inspected: 4 },
      '5 do not conform, but only 4 were inspected. A unit counts once, whatever is wrong with it.',
    ],
    [
      { code: 'too_many_decimals', piece: 1, given: '6.123', allowed: 2 },
      '6.123 has too many decimals. This unit takes at most 2.',
    ],
    [
      { code: 'too_many_decimals', piece: 1, given: '6.1', allowed: 0 },
      '6.1 has too many decimals. This unit takes whole numbers.',
    ],
    [
      { code: 'outside_hard_bounds', piece: 1, given: 99, lower: 0, upper: 60 },
      '99 cannot be measured here. Values between 0 and 60 can.',
    ],
    [{ code: 'wrong_count', given: 2, expected: 3 }, 'A sample has 3 readings; 2 came.'],
  ])('%j', (given, sentence) => {
    expect(refusal(given)).toBe(sentence);
  });

  it('names a bound that stands alone', () => {
    expect([within(1, null), within(undefined, 9)]).toEqual(['of at least 1', 'of at most 9']);
  });
});

/** As a newer server would say it. */
const newer = { code: 'something_new', params: {} } as unknown as Fault;

describe('any failure is a sentence', () => {
  it.each([
    [new Failure(AWAY), 'The server cannot be reached.'],
    [
      new Failure({ code: 'too_many_tries', params: { retry_after_seconds: 16 } }, 429),
      'Too many tries that did not fit. The next one is heard in 16 s.',
    ],
    [
      new Failure({ code: 'missing', params: { object: 'event_kind' } }, 404),
      'There is no such kind of event any more.',
    ],
    [
      new Failure({ code: 'changed', params: { object: 'run' } }, 409),
      'Somebody changed this run first. It is shown as it stands now; what you typed is still here.',
    ],
    [
      new Failure({ code: 'too_few_points', params: { needed: 20, found: 4 } }, 409),
      'Limits need 20 points. There are 4 so far.',
    ],
    [new Failure(newer, 500), 'The server failed. Nothing was saved; try again in a moment.'],
    [new Failure(newer, 400), 'The server refused the request.'],
    [new Error('boom'), 'Something in this page failed. Load it again; nothing saved is lost.'],
  ])('%s', (failure, sentence) => {
    expect(sentenceFor(failure)).toBe(sentence);
  });
});
