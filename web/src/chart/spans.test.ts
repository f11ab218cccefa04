import { describe, expect, it } from 'vitest';
import type { Span } from './model';
import { stack } from './spans';

const span = (from: number, to: number): Span => ({
  id: `${from}-${to}`,
  panel: 'mean',
  label: '',
  from,
  at: from,
  to,
  state: 'open',
});
const of = (state: Span['state'], from: number, to: number): Span => ({ ...span(from, to), state });

describe('the signal lane', () => {
  it('gives spans that overlap rows of their own and uses a row again once it is free', () => {
    const placed = stack([span(0, 8), span(4, 6), span(9, 9)], () => 0, 20);
    expect(placed.map((s) => [s.id, s.row])).toEqual([
      ['0-8', 0],
      ['4-6', 1],
      ['9-9', 0],
    ]);
  });

  it('keeps the wording behind a short bar free', () => {
    const placed = stack([span(0, 2), span(5, 5)], () => 4, 20);
    expect(placed.map((s) => s.row)).toEqual([0, 1]);
  });

  it('puts the wording before a bar at the right edge, clear of bars that stand there', () => {
    const placed = stack([span(15, 15), span(19, 20)], () => 5, 20);
    expect(placed.map((s) => [s.wording, s.row])).toEqual([
      ['after', 0],
      ['before', 1],
    ]);
  });
});

describe('the signal lane where there is much to say', () => {
  const crowd = Array.from({ length: 40 }, (_, i) => of('reviewed', i * 3, i * 3 + 1));

  it('has no more rows than it may take', () => {
    for (const most of [1, 2, 3]) {
      const rows = stack(crowd, () => 30, 200, { most }).map(({ row }) => row);
      expect(Math.max(...rows)).toBe(most - 1);
    }
  });

  it('keeps every bar, and lets none of them cover another while there is room for bars alone', () => {
    const placed = stack(crowd, () => 30, 200);
    expect(placed.map(({ id }) => id).sort()).toEqual(crowd.map(({ id }) => id).sort());
    for (const [i, a] of placed.entries())
      for (const b of placed.slice(i + 1)) expect(a.row === b.row && a.from <= b.to && b.from <= a.to).toBe(false);
  });

  it('covers no bar and no other wording with a wording', () => {
    const room = () => 7;
    const uneven = Array.from({ length: 40 }, (_, i) =>
      of('reviewed', i * 3 + ((i * i) % 7), i * 3 + ((i * i) % 7) + 1),
    );
    const placed = stack(uneven, room, 200);
    const words = placed.filter(({ wording }) => wording !== 'none');
    expect(words.length).toBeGreaterThan(5);
    expect(words.length).toBeLessThan(40);
    for (const { id, row, to } of words)
      for (const other of placed.filter((span) => span.row === row && span.id !== id)) {
        const reach = other.wording === 'none' ? other.to : other.to + room();
        expect(other.from > to + room() || reach <= to, `${id} and ${other.id}`).toBe(true);
      }
  });

  it('words what asks before what is settled', () => {
    const placed = stack([of('reviewed', 0, 1), of('open', 2, 3), of('reviewed', 4, 5)], () => 1.5, 200, { most: 1 });
    expect(placed.map(({ id, wording }) => [id, wording])).toEqual([
      ['0-1', 'none'],
      ['2-3', 'none'],
      ['4-5', 'after'],
    ]);
    const apart = stack([of('reviewed', 0, 1), of('open', 5, 6), of('reviewed', 7, 7)], () => 3, 6, { most: 1 });
    expect(apart.map(({ id, wording }) => [id, wording])).toEqual([
      ['0-1', 'none'],
      ['5-6', 'before'],
      ['7-7', 'none'],
    ]);
  });

  it('lets bars lie over each other only where no row has room', () => {
    const heap = Array.from({ length: 6 }, () => of('reviewed', 0, 9));
    expect(stack(heap, () => 4, 200).map(({ row }) => row)).toEqual([0, 1, 2, 0, 1, 2]);
    expect(stack([...heap.slice(3), of('reviewed', 20, 21)], () => 30, 200).map(({ row }) => row)).toEqual([
      0, 1, 2, 0,
    ]);
  });

  it('keeps what bars reach beyond their points apart', () => {
    const two = [of('reviewed', 0, 0), of('reviewed', 3, 3)];
    expect(stack(two, () => 0, 200, { air: 1 }).map(({ row }) => row)).toEqual([0, 0]);
    expect(stack(two, () => 0, 200, { air: 2 }).map(({ row }) => row)).toEqual([0, 1]);
  });
});
