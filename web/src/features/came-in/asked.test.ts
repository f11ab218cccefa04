import { describe, expect, it } from 'vitest';
import { askedOf } from './asked';

const ID = '0b5c1a52-8a5e-4c1e-9a35-0d8f0c1a2b3c';

describe('the address says which samples are listed', () => {
  it.each<[name: string, address: string, asked: object]>([
    ['nothing', '', { mine: true }],
    ['what became of them', 'became=skipped', { became: 'skipped', mine: true }],
    ['no such outcome', 'became=lost', { mine: true }],
    ['a place, wherever one belongs', `station=${ID}`, { station: ID }],
    ['everywhere', 'everywhere=true&laboratory=false', { laboratory: false }],
    ['neither floor nor laboratory', 'laboratory=maybe', { mine: true }],
    ['no id', 'person=me&product=1', { mine: true }],
  ])('%s', (_, address, asked) => {
    expect(askedOf(new URLSearchParams(address))).toEqual(asked);
  });

  it('begins a day at its midnight', () => {
    const asked = askedOf(new URLSearchParams('from=2026-09-21&until=2026-09-22'));
    expect(Date.parse(asked.until ?? '') - Date.parse(asked.from ?? '')).toBe(24 * 3_600_000);
  });
});
