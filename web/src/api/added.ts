/** A sample that was added at the end of a chart, put onto the charts that are on the screen. */

import type { QueryClient } from '@tanstack/react-query';
import { type ChartView, decoded, type Stretch } from './chart';
import type { LiveNews, SmallChart } from './client';
import { BESIDE_ENTRY, type Key } from './queries';

type AddedPoint = NonNullable<LiveNews['point']>;
type Panel = ChartView['panels'][number];

/**
 * Puts the point onto every chart that is known. Gives what is to be asked for again: what it does not fit onto, and what is
 * on its way, since that may be older than the point, and would take its place.
 */
export function putPoint(client: QueryClient, characteristic: string, point: AddedPoint): Key[] {
  const one = decoded(point.chart);
  const again: Key[] = [];
  for (const query of client.getQueryCache().findAll({ queryKey: ['chart', characteristic] })) {
    const stretch = query.queryKey[2] === 'entry' ? { last: BESIDE_ENTRY } : (query.queryKey[2] as Stretch);
    const view = query.state.data as ChartView | undefined;
    const next = view && withPoint(view, stretch, one);
    const onItsWay = query.state.fetchStatus === 'fetching';
    if (next) client.setQueryData(query.queryKey, next);
    if (next ? onItsWay : !isClosed(stretch)) again.push(query.queryKey as unknown as Key);
  }
  for (const query of client.getQueryCache().findAll({ queryKey: ['small-charts'] })) {
    const { last } = query.queryKey[1] as { last?: number };
    const charts = query.state.data as readonly SmallChart[] | undefined;
    const of = charts?.find(({ id }) => id === characteristic);
    const next = of && smallWithPoint(of, last, one, point.z ?? null);
    const onItsWay = query.state.fetchStatus === 'fetching';
    if (next) {
      client.setQueryData(
        query.queryKey,
        charts?.map((chart) => (chart === of ? next : chart)),
      );
    }
    if (!next || onItsWay) again.push(query.queryKey as unknown as Key);
  }
  return again;
}

/** A stretch that ends at a sample, or at a time, has no place for what comes later. */
const isClosed = ({ to, until, before }: Stretch) => to != null || until != null || before != null;

/** The chart with the point at its end; nothing where it does not follow what is known. */
export function withPoint(view: ChartView, stretch: Stretch, one: ChartView): ChartView | null {
  const { marks } = view;
  const [takenAt] = one.marks.taken_at;
  const [number] = one.marks.number;
  const phase = view.phases[view.phases.length - 1];
  const fits =
    !isClosed(stretch) &&
    takenAt !== undefined &&
    number !== undefined &&
    one.total === view.total + 1 &&
    takenAt >= (marks.taken_at[marks.taken_at.length - 1] ?? Infinity) &&
    phase?.limits.limits === one.phases[0]?.limits.limits &&
    view.panels.length === one.panels.length;
  if (!fits) return null;
  // What has no room any more goes at the other end.
  const gone = view.places >= (stretch.last ?? 60) ? 1 : 0;
  const first = gone === 1 && marks.place[0] === 0 ? 1 : 0;
  const place = view.places - gone;
  const mark = marks.place.length - first;
  const kept = <T>(all: readonly T[], added: readonly T[]) => [...all.slice(first), ...added];
  const said = <T>(all: readonly { point: number; is: T }[], added: readonly { point: number; is: T }[]) => [
    ...all.filter(({ point }) => point >= first).map((of) => ({ ...of, point: of.point - first })),
    ...added.map((of) => ({ ...of, point: mark })),
  ];
  return {
    ...view,
    total: one.total,
    places: place + 1,
    marks: {
      place: [...marks.place.slice(first).map((at) => at - gone), place],
      number: kept(marks.number, one.marks.number),
      taken_at: kept(marks.taken_at, one.marks.taken_at),
      aside: said(marks.aside, one.marks.aside),
      restart: said(marks.restart, one.marks.restart),
      gap: said(marks.gap, one.marks.gap),
    },
    points:
      view.points.length === 0
        ? []
        : [
            ...view.points.slice(first).map((point) => ({ ...point, place: point.place - gone })),
            ...one.points.map((point) => ({ ...point, place })),
          ],
    panels: view.panels.map((panel, i) => panelWith(panel, one.panels[i] ?? panel, first, mark)),
    phases: view.phases
      .map((of, i) => ({
        ...of,
        start: Math.max(0, of.start - gone),
        end: i === view.phases.length - 1 ? place : of.end - gone,
      }))
      .filter(({ end }) => end >= 0),
    episodes: view.episodes
      .map((of) => ({ ...of, from: Math.max(0, of.from - gone), at: Math.max(0, of.at - gone), to: of.to - gone }))
      .filter(({ to }) => to >= 0),
    notes: view.notes.map((note) => ({ ...note, place: note.place - gone })).filter(({ place: at }) => at >= 0),
  };
}

/** A panel without its first marks, and with one more at its end. */
function panelWith(panel: Panel, added: Panel, first: number, mark: number): Panel {
  const back = <T extends { from: number; to: number }>(all: readonly T[]) =>
    all.filter(({ to }) => to >= first).map((of) => ({ ...of, from: Math.max(0, of.from - first), to: of.to - first }));
  return {
    ...panel,
    value: [...panel.value.slice(first), ...added.value],
    flagged: [...panel.flagged.filter((at) => at >= first).map((at) => at - first), ...added.flagged.map(() => mark)],
    lines: extended(
      back(panel.lines),
      added.lines,
      mark,
      (a, b) => a.center === b.center && a.lower === b.lower && a.upper === b.upper,
    ),
    zones: extended(back(panel.zones), added.zones, mark, (a, b) => a.edges.join() === b.edges.join()),
  };
}

/** Stretches that share something, one mark longer: the last of them, where the new mark shares it too. */
function extended<T extends { from: number; to: number }>(
  all: readonly T[],
  added: readonly T[],
  mark: number,
  isSame: (a: T, b: T) => boolean,
): T[] {
  const last = all[all.length - 1];
  const [one] = added;
  if (!one) return [...all];
  if (last?.to === mark - 1 && isSame(last, one)) return [...all.slice(0, -1), { ...last, to: mark }];
  return [...all, { ...one, from: mark, to: mark }];
}

/** A small chart with the point at its end; nothing where it has none yet. */
export function smallWithPoint(
  chart: SmallChart,
  last: number | undefined,
  one: ChartView,
  z: number | null,
): SmallChart | null {
  const [panel] = one.panels;
  const [takenAt] = one.marks.taken_at;
  if (!chart.panel || !panel || takenAt === undefined || takenAt < (chart.taken_at[chart.taken_at.length - 1] ?? 0))
    return null;
  const gone = last !== undefined && chart.places >= last ? 1 : 0;
  const first = gone === 1 && chart.place[0] === 0 ? 1 : 0;
  const place = chart.places - gone;
  return {
    ...chart,
    places: place + 1,
    place: [...chart.place.slice(first).map((at) => at - gone), place],
    taken_at: [...chart.taken_at.slice(first), takenAt],
    phases: chart.phases.map((at) => at - gone).filter((at) => at > 0),
    panel: panelWith(chart.panel, panel, first, chart.place.length - first),
    newest_z: panel.value[0] == null ? (chart.newest_z ?? null) : z,
  };
}
