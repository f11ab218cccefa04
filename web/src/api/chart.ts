/** A chart as the program reads it: the server sends columns, whoever looks at one point wants all of it. */

import { answered, api, type Doubt } from './client';
import type { components, paths } from './schema';

type Schemas = components['schemas'];
type Sent = Schemas['ChartView'];

/** Which stretch of a chart, and how much of it. */
export type Stretch = NonNullable<paths['/api/characteristics/{id}/chart']['get']['parameters']['query']>;

/** More points are not charted at once. */
export const PLACES_AT_MOST = 100_000;

/** Readings, counts or an event. */
export type Content = Schemas['Content'];

/** One sample on a chart. */
export interface ChartPoint {
  place: number;
  sample: string;
  number: number;
  taken_at: string;
  arrived_at: string;
  person: string;
  tags: Record<string, string>;
  content: Content | null;
  gap: Schemas['Gap'] | null;
  doubts: readonly Doubt[];
  version: number;
  corrected: boolean;
  aside: Schemas['Said'] | null;
  restart: Schemas['Said'] | null;
}

export type ChartPanel = Schemas['PanelColumns'];

/** What is drawn: where each mark stands, and what somebody said of some of them. */
export type Marks = Pick<Schemas['PointColumns'], 'place' | 'number' | 'taken_at' | 'aside' | 'restart' | 'gap'>;

export interface ChartView extends Omit<Sent, 'points'> {
  marks: Marks;
  /** All that is known of each mark; none of a chart with very many of them. */
  points: readonly ChartPoint[];
}

/** A stretch of the chart of a characteristic. */
export async function chartOf(id: string, query: Stretch): Promise<ChartView> {
  return decoded(await answered(api.GET('/api/characteristics/{id}/chart', { params: { path: { id }, query } })));
}

export function decoded({ points: { details, ...marks }, ...view }: Sent): ChartView {
  return { ...view, marks, points: details ? pointsOf(marks, details) : [] };
}

/** What only some points have, by the point. */
const byPoint = <T>(some: readonly { point: number; is: T }[]) => new Map(some.map(({ point, is }) => [point, is]));

function pointsOf(marks: Marks, details: Schemas['DetailColumns']): ChartPoint[] {
  const [aside, restart, gap] = [byPoint(marks.aside), byPoint(marks.restart), byPoint(marks.gap)];
  const doubts = byPoint(details.doubts);
  const corrected = new Set(details.corrected);
  const content = contents(details);
  return marks.number.map((number, i) => ({
    place: marks.place[i] ?? i,
    sample: details.sample[i] ?? '',
    number,
    taken_at: new Date(marks.taken_at[i] ?? 0).toISOString(),
    arrived_at: new Date(details.arrived_at[i] ?? 0).toISOString(),
    person: details.people[details.person[i] ?? 0] ?? '',
    tags: details.tag_sets[details.tags[i] ?? 0] ?? {},
    content: content(i),
    gap: gap.get(i) ?? null,
    doubts: doubts.get(i) ?? [],
    version: details.version[i] ?? 1,
    corrected: corrected.has(i),
    aside: aside.get(i) ?? null,
    restart: restart.get(i) ?? null,
  }));
}

/** What a point recorded, put together from its columns. */
function contents(details: Schemas['DetailColumns']): (point: number) => Content | null {
  const components = byPoint(details.components);
  const defects = byPoint(details.defects);
  const events = byPoint(details.events);
  return (i) => {
    const [values, inspected, between] = [details.values[i], details.inspected[i], events.get(i)];
    if (values != null) return { readings: { values, components: components.get(i) ?? [] } };
    if (inspected != null) return { counts: { inspected, defects: defects.get(i) ?? [] } };
    return between === undefined ? null : { event: { between } };
  };
}

/** What holds at a mark, of stretches of marks that share it. */
export function holdingAt<T extends { from: number; to: number }>(
  stretches: readonly T[],
  mark: number,
): T | undefined {
  return stretches.find(({ from, to }) => from <= mark && mark <= to);
}
