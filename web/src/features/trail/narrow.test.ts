import { expect, test } from 'vitest';
import { askedOf, fileOf } from './narrow';

const ID = '01234567-89ab-4cde-8f01-23456789abcd';

test.each([
  ['', {}],
  [`person=${ID}&action=sample_corrected`, { person: ID, action: 'sample_corrected' }],
  ['person=tilda&action=sample_forged&from=yesterday', {}],
])('an address with %s asks for %o', (query, expected) => {
  expect(askedOf(new URLSearchParams(query))).toEqual(expected);
});

test('the file is asked for as the list is', () => {
  const asked = askedOf(new URLSearchParams(`characteristic=${ID}&from=2026-11-02`));
  const { searchParams } = new URL(fileOf(asked), 'http://nuvek.test');
  expect(Object.fromEntries(searchParams)).toEqual(asked);
});
