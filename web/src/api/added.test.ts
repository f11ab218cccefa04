import { QueryClient, QueryObserver } from '@tanstack/react-query';
import { describe, expect, it, vi } from 'vitest';
import { putPoint, smallWithPoint, withPoint } from './added';
import type { ChartView } from './chart';
import type { SmallChart } from './client';

vi.mock('./chart', async (original) => ({ ...(await original<object>()), decoded: (chart: unknown) => chart }));

const lines = (from: number, to: number, center: number) => ({
  from,
  to,
  center,
  lower: center - 1,
  upper: center + 1,
});
const phase = (start: number, end: number, limits: string) =>
  ({ start, end, limits: { limits }, aside_since: 0 }) as unknown as ChartView['phases'][number];

/** Three of four samples on two phases, the first of them an episode. */
const view = {
  total: 4,
  places: 3,
  marks: {
    place: [0, 1, 2],
    number: [2, 3, 4],
    taken_at: [20, 30, 40],
    aside: [{ point: 0, is: {} }],
    restart: [],
    gap: [],
  },
  points: [{ place: 0 }, { place: 1 }, { place: 2 }],
  panels: [
    {
      statistic: 'mean',
      value: [1, 2, 3],
      flagged: [0, 1],
      lines: [lines(0, 1, 5), lines(2, 2, 6)],
      zones: [{ from: 0, to: 2, edges: [1, 2, 3, 4] }],
    },
  ],
  phases: [phase(0, 1, 'old'), phase(2, 2, 'new')],
  episodes: [
    { id: 'e', from: 0, at: 0, to: 0 },
    { id: 'f', from: 0, at: 1, to: 1 },
  ],
  notes: [{ place: 1, text: 'x' }],
  events: [],
} as unknown as ChartView;

const one = (of: { total?: number; taken?: number; limits?: string; center?: number }) =>
  ({
    total: of.total ?? 5,
    places: 1,
    marks: { place: [0], number: [5], taken_at: [of.taken ?? 50], aside: [], restart: [], gap: [] },
    points: [{ place: 0, number: 5 }],
    panels: [
      {
        statistic: 'mean',
        value: [4],
        flagged: [],
        lines: [lines(0, 0, of.center ?? 6)],
        zones: [{ from: 0, to: 0, edges: [1, 2, 3, 4] }],
      },
    ],
    phases: [phase(0, 0, of.limits ?? 'new')],
    episodes: [],
    notes: [],
    events: [],
  }) as unknown as ChartView;

describe('a point that is added to a chart', () => {
  it('stands at its end, under the lines that hold', () => {
    const next = withPoint(view, { last: 60 }, one({}));
    expect(next?.marks).toMatchObject({ place: [0, 1, 2, 3], number: [2, 3, 4, 5], taken_at: [20, 30, 40, 50] });
    expect([next?.places, next?.total, next?.points.length]).toEqual([4, 5, 4]);
    const [panel] = next?.panels ?? [];
    expect(panel?.value).toEqual([1, 2, 3, 4]);
    expect(panel?.lines.map(({ from, to }) => [from, to])).toEqual([
      [0, 1],
      [2, 3],
    ]);
    expect(panel?.zones.map(({ from, to }) => [from, to])).toEqual([[0, 3]]);
    expect(next?.phases.map(({ start, end }) => [start, end])).toEqual([
      [0, 1],
      [2, 3],
    ]);
  });

  it('has lines of its own where others hold, as with another number inspected', () => {
    const [panel] = withPoint(view, { last: 60 }, one({ center: 7 }))?.panels ?? [];
    expect(panel?.lines.map(({ from, to, center }) => [from, to, center])).toEqual([
      [0, 1, 5],
      [2, 2, 6],
      [3, 3, 7],
    ]);
  });

  it('takes the place of the first one where no more are shown', () => {
    const next = withPoint(view, { last: 3 }, one({}));
    expect(next?.marks).toMatchObject({ place: [0, 1, 2], number: [3, 4, 5], aside: [] });
    expect(next?.points.map(({ place }) => place)).toEqual([0, 1, 2]);
    const [panel] = next?.panels ?? [];
    expect([panel?.value, panel?.flagged]).toEqual([[2, 3, 4], [0]]);
    expect(panel?.lines.map(({ from, to }) => [from, to])).toEqual([
      [0, 0],
      [1, 2],
    ]);
    expect(next?.phases.map(({ start, end }) => [start, end])).toEqual([
      [0, 0],
      [1, 2],
    ]);
    expect(next?.episodes.map(({ id, from, to }) => [id, from, to])).toEqual([['f', 0, 0]]);
    expect(next?.notes.map(({ place }) => place)).toEqual([0]);
  });

  it('is put on no chart that it does not follow', () => {
    expect(withPoint(view, { last: 60 }, one({ total: 6 }))).toBeNull();
    expect(withPoint(view, { last: 60 }, one({ taken: 35 }))).toBeNull();
    expect(withPoint(view, { last: 60 }, one({ limits: 'newer' }))).toBeNull();
    expect(withPoint(view, { last: 60, until: 'x' }, one({}))).toBeNull();
    expect(withPoint(view, { to: 4 }, one({}))).toBeNull();
  });

  it('stands on the small chart too, with how far it lies out', () => {
    const small = {
      places: 3,
      place: [0, 2],
      taken_at: [20, 40],
      phases: [0, 2],
      panel: { statistic: 'mean', value: [1, 3], flagged: [0], lines: [lines(0, 1, 6)], zones: [] },
      newest_z: 0,
    } as unknown as SmallChart;
    const next = smallWithPoint(small, 3, one({}), -2);
    expect(next).toMatchObject({ places: 3, place: [1, 2], taken_at: [40, 50], phases: [1], newest_z: -2 });
    expect(next?.panel).toMatchObject({ value: [3, 4], flagged: [], lines: [{ from: 0, to: 1 }] });
    expect(smallWithPoint({ ...small, panel: null }, 3, one({}), 0)).toBeNull();
  });
});

describe('a point that comes while its chart is on its way', () => {
  it('is not lost on an answer that is older than it', async () => {
    const client = new QueryClient();
    const queryKey = ['chart', 'wall', { last: 60 }];
    const newer = withPoint(view, { last: 60 }, one({}));
    let older: (chart: ChartView) => void = () => undefined;
    const answers = [new Promise<ChartView>((resolve) => (older = resolve)), Promise.resolve(newer)];
    client.setQueryData(queryKey, view);
    const observer = new QueryObserver(client, { queryKey, queryFn: () => answers.shift(), staleTime: Infinity });
    const gone = observer.subscribe(() => undefined);
    void client.invalidateQueries();
    const again = putPoint(client, 'wall', { chart: one({}) } as unknown as Parameters<typeof putPoint>[2]);
    expect(client.getQueryData<ChartView>(queryKey)?.total).toBe(5);
    again.forEach((queryKey) => void client.invalidateQueries({ queryKey }));
    older(view);
    await vi.waitFor(() => expect(client.isFetching()).toBe(0));
    expect(client.getQueryData<ChartView>(queryKey)?.total).toBe(5);
    gone();
  });
});
