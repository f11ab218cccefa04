import { describe, expect, test } from 'vitest';
import { detailInWords } from './trail';

const ID = '01234567-89ab-4cde-8f01-23456789abcd';

describe('old and new values, in words', () => {
  test.each([
    [{ number: 7, because: 'broke' }, 'sample: 7, reason: broke'],
    [{ old: { state: 'open' }, new: { state: 'answered' }, answer: ID }, 'state: open → answered'],
    [{ old: { group: null, area: ID }, new: { group: 'machine', area: ID } }, 'group: – → machine'],
    [{ old: { k: 3, lsl: 1 }, new: { k: 2.5, lsl: 1 } }, 'multiplier of sigma: 3 → 2.5'],
    [{ old: 1.23456789, new: 2 }, 'before: 1.23457, now: 2'],
    [{ nothing_found: true, held: false, comment: null }, 'nothing found: yes'],
    [{ steps: ['Look', 'Hold'] }, 'steps: Look  Hold'],
  ])('%o', (detail, words) => {
    expect(detailInWords(detail)).toBe(words);
  });
});
