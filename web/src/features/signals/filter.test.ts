import { describe, expect, test } from 'vitest';
import { askedOf, listOf, narrowedBy } from './filter';

/** As the clock of this device has it, which hangs here. */
const midnight = (day: string) => new Date(`${day}T00:00:00`).toISOString();

const ID = '01234567-89ab-4cde-8f01-23456789abcd';

describe('the address of a list', () => {
  test.each([
    ['nothing', '', {}],
    ['ids', `rule=trend&cause=${ID}`, { rule: 'trend', cause: ID }],
    ['what is no id', 'product=lid&person=7', {}],
    ['a rule', 'rule=one_side', { rule: 'one_side' }],
    ['a rule of the laboratory', 'rule=multirule', { rule: 'multirule' }],
    ['no rule', 'rule=unlucky', {}],
    ['days', 'from=2026-11-02&until=2026-11-09', { from: midnight('2026-11-02'), until: midnight('2026-11-09') }],
    ['what is no day', 'from=soon', {}],
    ['the floor', 'laboratory=false', { laboratory: false }],
    ['neither', 'laboratory=perhaps', {}],
    ['limits in force', 'trial=false', { trial: false }],
    ['what was open too long', 'escalated=true', { escalated: true }],
    ['anything but yes', 'escalated=1', {}],
  ])('narrows by %s', (_, query, expected) => {
    expect(narrowedBy(new URLSearchParams(query))).toEqual({ ...expected, mine: true });
  });

  test.each([`area=${ID}`, `station=${ID}`, 'everywhere=true'])('%s looks further than the own stations', (query) => {
    expect(narrowedBy(new URLSearchParams(query))).not.toHaveProperty('mine');
  });

  test.each([
    ['', 'open'],
    ['state=reviewed', 'reviewed'],
    ['state=lost', 'open'],
  ])('%s asks for the list %s', (query, expected) => {
    expect(listOf(new URLSearchParams(query))).toBe(expected);
  });
});

test('what waits is worked through from the oldest on, what is done is looked up from the newest', () => {
  expect(askedOf('open', { rule: 'trend' })).toEqual({ rule: 'trend', waiting: true, order: 'queue' });
  expect(askedOf('answered', {})).toEqual({ state: 'answered', order: 'queue' });
  expect(askedOf('reviewed', {})).toEqual({ state: 'reviewed' });
  expect(askedOf('all', {})).toEqual({});
});
