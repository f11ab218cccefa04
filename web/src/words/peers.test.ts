import { describe, expect, it } from 'vitest';
import type { LevelBeside, MonthBeside } from '../api/client';
import { besideInWords, comparedIn, givingFares, lotsOf, statisticsRefused } from './peers';

const month = (name: string, sdi: number | null, distance: 'near' | 'apart' | 'far' = 'near'): MonthBeside => ({
  month: name,
  own: { n: 20, mean: 42, sd: 1, cv: 2.4 },
  told: null,
  beside: sdi === null ? null : { bias_percent: -0.04, sdi, cvr: null, distance },
});

const level = (analyte: string, name: string, months: MonthBeside[]): LevelBeside => ({
  characteristic: name,
  analyte,
  level: name,
  code: name,
  unit: 'NTU',
  decimals: 2,
  lots: [{ control_lot: null, reagent_lot: 'R-1', months }],
});

describe('own results beside the peers', () => {
  it('says which levels lie off in their newest month, analyte by analyte', () => {
    const levels = [
      level('Turbidity', 'low', [month('2026-10', -3, 'far'), month('2026-11', 1.42, 'apart')]),
      level('Turbidity', 'high', [month('2026-11', -2.2, 'far'), month('2026-12', null)]),
      level('Silver', 'low', [month('2026-11', 0.2)]),
    ];
    expect(besideInWords(levels)).toBe(
      'More than one of the peers’ sd away from their mean in its newest month: ' +
        'Turbidity (low +1.4 in Nov 2026, high −2.2 in Nov 2026).',
    );
  });

  it('says so where nothing lies off, and where nothing can be said', () => {
    expect(besideInWords([level('Silver', 'low', [month('2026-11', 0.9)])])).toMatch(
      /^In its newest month every level/,
    );
    expect(besideInWords([level('Silver', 'low', [month('2026-11', null)])])).toBe('No month can be compared yet.');
  });

  it('leaves a place empty that has no figure', () => {
    expect(comparedIn(month('2026-11', 0.5))).toEqual(['0.0 %', '+0.50', '–']);
    expect(comparedIn(month('2026-11', null))).toEqual(['–', '–', '–']);
    expect([lotsOf({ reagent_lot: 'R-1', control_lot: 'C-7' }), lotsOf({})]).toEqual(['R-1 · C-7', '–']);
  });
});

describe('what is given', () => {
  const fares = { given: 0, waiting: 0, not_taken: 0, failed: null };

  it('tells how it fares', () => {
    expect(givingFares(fares)).toBe('No result is with the group.');
    expect(givingFares({ ...fares, given: 12, waiting: 1, not_taken: 2, failed: 'answered 500' })).toBe(
      '12 results are with the group, 1 waits, 2 were not taken. The last try: answered 500.',
    );
  });

  it('names the first entries of a file that do not fit', () => {
    const wrong = (row: number) => ({ row, level: `AG-${row}`, because: 'code' as const });
    expect(statisticsRefused([wrong(2)])).toBe(
      'Nothing of the file was taken in. Entry 2 (AG-2): no level here is called so.',
    );
    expect(statisticsRefused([1, 2, 3, 4, 5, 6, 7].map(wrong))).toMatch(/5 \(AG-5\).*; and 2 more\.$/);
  });
});
