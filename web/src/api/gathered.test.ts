import { QueryClient } from '@tanstack/react-query';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { Gathered } from './gathered';
import type { Key } from './queries';

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

/** When it was asked for something, where news comes every so many ms for so long, and once more after a quiet time. */
function asked(key: Key, everyMs: number, forMs: number, quietMs: number): number[] {
  const client = new QueryClient();
  const times: number[] = [];
  const began = performance.now();
  vi.spyOn(client, 'invalidateQueries').mockImplementation(() => {
    times.push(Math.round(performance.now() - began));
    return Promise.resolve();
  });
  const gathered = new Gathered(client);
  for (let at = 0; at < forMs; at += everyMs) {
    gathered.ask(key);
    vi.advanceTimersByTime(everyMs);
  }
  vi.advanceTimersByTime(quietMs);
  gathered.ask(key);
  gathered.stop();
  return times;
}

it('asks at once, once for all that comes soon after it, and at once again after a quiet time', () => {
  expect(asked(['waiting'], 100, 200, 5000)).toEqual([0, 250, 5200]);
});

it('asks ever more seldom while it never ends, and misses nothing', () => {
  expect(asked(['waiting'], 2, 8002, 4000)).toEqual([0, 250, 750, 1750, 3750, 7750, 11750]);
});

it('asks for what is looked at as often as it can be seen', () => {
  expect(asked(['chart', 'wall'], 2, 202, 1000)).toEqual([0, 50, 100, 150, 200, 250, 1202]);
});

it('lets a point be drawn first where it came along', () => {
  const client = new QueryClient();
  const ask = vi.spyOn(client, 'invalidateQueries');
  const gathered = new Gathered(client);
  gathered.ask(['rounds'], true);
  gathered.ask(['rounds'], true);
  vi.advanceTimersByTime(49);
  expect(ask).not.toHaveBeenCalled();
  vi.advanceTimersByTime(1);
  expect(ask).toHaveBeenCalledTimes(1);
  gathered.stop();
});

it('asks for nothing after it was stopped', () => {
  const client = new QueryClient();
  const ask = vi.spyOn(client, 'invalidateQueries');
  const gathered = new Gathered(client);
  gathered.ask(['rounds']);
  gathered.ask(['rounds']);
  gathered.stop();
  vi.advanceTimersByTime(10_000);
  expect(ask).toHaveBeenCalledTimes(1);
});
