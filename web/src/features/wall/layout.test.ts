import { describe, expect, it } from 'vitest';
import { readableFrom } from '../../words/wall';
import { columnsOf, paged, sizeOf, writingOf } from './layout';

const ACROSS = { width: 1920, height: 1080 };
const UPRIGHT = { width: 1080, height: 1920 };

describe('the screen of a display', () => {
  it('is written on as large whichever way it hangs, and twice as large with twice the pixels', () => {
    expect(sizeOf(4, ACROSS)).toBeCloseTo(56.6, 1);
    expect(sizeOf(4, UPRIGHT)).toBe(sizeOf(4, ACROSS));
    expect(sizeOf(4, { width: 3840, height: 2160 })).toBe(2 * sizeOf(4, ACROSS));
    expect(sizeOf(9, { width: 390, height: 700 })).toBe(16);
  });

  it('is divided by how many charts it shows', () => {
    expect([1, 2, 4, 6, 9].map((charts) => columnsOf(charts, ACROSS))).toEqual([1, 1, 2, 3, 3]);
    expect([1, 2, 4, 6, 9].map((charts) => columnsOf(charts, UPRIGHT))).toEqual([1, 1, 1, 2, 2]);
    expect(paged([1, 2, 3, 4, 5], 2)).toEqual([[1, 2], [3, 4], [5]]);
  });

  it('is read from five metres with up to four charts', () => {
    expect(readableFrom(writingOf(4))).toBeGreaterThan(5);
    expect(readableFrom(writingOf(9))).toBeCloseTo(3.5, 1);
  });
});
