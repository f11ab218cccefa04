import { describe, expect, it } from 'vitest';
import { extent } from './extent';
import { brokenLine, dots } from './marks';
import { before, edges, marksBetween, nearest, same } from './places';
import { spread } from './spread';

it('draws all marks as one path', () => {
  expect(
    dots(
      [
        [1, 1],
        [9, 2],
      ],
      2,
    ).match(/M/g),
  ).toHaveLength(2);
});

it('breaks a line where there is nothing', () => {
  expect(brokenLine([[0, 1], [1, 2], null, [3, 4], [4, 5]])).toBe('M0.0,1.0L1.0,2.0M3.0,4.0L4.0,5.0');
});

it('moves figures apart and keeps their order', () => {
  expect(spread([12, 10, 40], 14)).toEqual([24, 10, 40]);
});

it('reaches over all figures with a little air, and over something where there are none', () => {
  expect(extent([2, null, 12], 0.1)).toEqual([1, 13]);
  expect(extent([])).toEqual([0, 1]);
});

describe('places on an axis', () => {
  const place = [0, 3, 4, 10, 50];

  it('find the nearest mark, on a tie the later', () => {
    expect([-5, 1, 1.5, 3.4, 7, 31, 99].map((x) => nearest(place, x))).toEqual([0, 0, 1, 1, 3, 4, 4]);
    expect(nearest([], 3)).toBeNull();
  });

  it('count what lies before', () => {
    expect([-1, 0, 3, 3.5, 60].map((x) => before(place, x))).toEqual([0, 0, 1, 2, 5]);
  });

  it('share edges halfway', () => {
    expect(edges(place)).toEqual([-0.5, 1.5, 3.5, 7, 30, 50.5]);
    expect(edges([])).toEqual([]);
  });

  it('take one mark more on either side of what is on the screen', () => {
    expect(marksBetween(place, (x) => x, 3.5, 9)).toEqual({ from: 1, to: 4 });
    expect(marksBetween(place, (x) => x, -9, 99)).toEqual({ from: 0, to: 4 });
  });

  it('tell windows apart that differ to the eye', () => {
    expect(same({ from: 0, to: 1000 }, { from: 1, to: 999 })).toBe(true);
    expect(same({ from: 0, to: 1000 }, { from: 9, to: 999 })).toBe(false);
    expect(same(null, { from: 0, to: 1 })).toBe(false);
    expect(same(null, null)).toBe(true);
  });
});
