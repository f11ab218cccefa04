import { describe, expect, it } from 'vitest';
import { boxes, steps } from '../plot/marks';
import { edges } from '../plot/places';
import type { Panel } from './model';
import { bands, levels, reach, traceReach } from './panel';

const same = (v: number) => v;
const at = (from: number, to: number, center: number) => ({ from, to, center });
const of = (count: number) => edges(Array.from({ length: count }, (_, i) => i));
const all = (count: number) => ({ from: 0, to: count - 1 });

describe('lines of a panel', () => {
  it('step between marks, break at gaps and at phase starts', () => {
    const lines = [at(0, 0, 1), at(1, 1, 2), at(3, 3, 3), at(4, 4, 4)];
    const found = levels(lines, all(5), ({ center }) => center, of(5), same, new Set([4]));
    expect(steps(found)).toBe('M-0.5,1.0H0.5V2.0H1.5M2.5,3.0H3.5M3.5,4.0H4.5');
  });

  it('reach on to a point in pencil', () => {
    expect(steps(levels([at(0, 1, 1)], all(2), ({ center }) => center, of(2), same, new Set(), 1))).toBe(
      'M-0.5,1.0H2.5',
    );
  });

  it('meet halfway where marks stand for many samples', () => {
    const found = levels([at(0, 0, 1), at(1, 2, 2)], all(3), (l) => l.center, edges([0, 40, 90]), same, new Set());
    expect(steps(found)).toBe('M-0.5,1.0H20.0V2.0H90.5');
  });

  it('are drawn only where they are on the screen', () => {
    const lines = Array.from({ length: 50 }, (_, i) => at(i, i, i));
    const found = levels(lines, { from: 20, to: 22 }, ({ center }) => center, of(50), same, new Set());
    expect(found.map(({ y }) => y)).toEqual([20, 21, 22]);
  });

  it('tint one box for each stretch of equal limits', () => {
    const zones = [
      { from: 0, to: 1, edges: [-2, -1, 1, 2] },
      { from: 2, to: 2, edges: [3, 4, 6, 7] },
    ];
    expect(boxes(bands(zones, all(3), 0, of(3), same))).toBe('M-0.5,2.0H1.5V-2.0H-0.5ZM1.5,7.0H2.5V3.0H1.5Z');
    expect(boxes(bands(zones, all(3), 1, of(3), same))).toBe('M-0.5,1.0H1.5V-1.0H-0.5ZM1.5,6.0H2.5V4.0H1.5Z');
  });
});

describe('what a panel reaches over', () => {
  const panel: Panel = {
    statistic: 'mean',
    value: [5],
    lines: [{ from: 0, to: 0, lower: 0, center: 5, upper: 10 }],
    flagged: [],
    zones: [],
  };

  it('is all that it shows, the pencil point too', () => {
    const [low, high] = reach(panel, { statistic: 'mean', value: 20, flagged: false });
    expect(low).toBeLessThan(0);
    expect(high).toBeGreaterThan(20);
    expect(reach({ ...panel, value: [], lines: [] }, undefined)).toEqual([0, 1]);
  });

  it('is what somebody typed, where somebody did', () => {
    expect(reach({ ...panel, scale: [2, 7] }, undefined)).toEqual([2, 7]);
  });
});

it('gives reference components a scale of their own', () => {
  const trace = (values: (number | null)[]) => ({ name: 'X', values });
  expect(traceReach([trace([null, -0.2]), trace([0.4])])).toEqual([-0.2, 0.4]);
  expect(traceReach([trace([3])])).toEqual([2, 4]);
});
