import { describe, expect, it } from 'vitest';
import type { ImportView } from '../api/client';
import { cameOf, cellRefused, rowRefused, rowsRefused, timeExample } from './data';
import { recipeRefused } from './recipes';

describe('bringing in', () => {
  it('shows how a time is written by one that cannot be misread', () => {
    expect(timeExample('%d.%m.%Y %H:%M')).toBe('31.12.2026 14:05');
    expect(timeExample('%m/%d/%y %I:%M %p')).toBe('12/31/26 2:05 PM');
    expect(timeExample('%Q')).toBe('%Q');
  });

  it('says what came of an import', () => {
    const it = { state: 'done', stored: 5, known: 39, changed: 1, refused: 0 } as ImportView;
    expect(cameOf(it)).toBe('5 samples stored, 39 rows known before, 1 row changed since');
    expect(cameOf({ ...it, state: 'cancelled', stored: 1200 })).toBe('1200 samples cancelled');
  });

  it('says why a cell or a row is refused', () => {
    const cell = { row: 21, column: 'x2', given: '12,1 mm' };
    expect(cellRefused({ ...cell, code: 'not_a_number' })).toContain('“12,1 mm” is not a number');
    expect(cellRefused({ ...cell, code: 'no_time' })).toBe('the time is missing.');
    expect(rowRefused({ row: 3, reason: 'no_time' })).toBe('Row 3 tells no time.');
    const refusals = [{ code: 'wrong_count' as const, given: 3, expected: 5 }];
    expect(rowRefused({ row: 7, reason: 'entry', refusals })).toBe('Row 7: A sample has 5 readings; 3 came.');
  });

  it('says of rows that are refused alike once why', () => {
    const refusals = [{ code: 'tag' as const, tag: 'shelf' }];
    const rows = [4, 5, 6, 7, 8, 9, 12].map((row) => ({ row, reason: 'entry' as const, refusals }));
    expect(rowsRefused([...rows, { row: 10, reason: 'no_time' }])).toEqual([
      'Rows 4, 5, 6, 7, 8 and 2 more: The tag “shelf” is not asked for here, or longer than 80 characters.',
      'Row 10 tells no time.',
    ]);
    const untimed = [3, 4].map((row) => ({ row, reason: 'no_time' as const }));
    expect(rowsRefused(untimed)).toEqual(['Rows 3, 4 tell no time.']);
  });

  it('says what is wrong with a recipe, and what would be right', () => {
    const wrong = { path: 'time.format', given: '%Q', allowed: 'one that gives a full date' };
    expect(recipeRefused(wrong)).toBe('How times are written: it is “%Q”. Right would be one that gives a full date.');
    expect(recipeRefused({ path: 'shape.values', given: 'nothing', allowed: 'a list of columns' })).toBe(
      'The shape: nothing is given. Right would be a list of columns.',
    );
    const twice = { path: 'key', given: 'rows 2 and 3 with the same', allowed: 'a key that each row has alone' };
    expect(recipeRefused(twice)).toBe(
      'What rows are known again by: it is “rows 2 and 3 with the same”. Right would be a key that each row has alone.',
    );
  });
});
