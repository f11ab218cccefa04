import type { ChartView } from '../../api/chart';
import type { ChartModel } from '../../chart/model';

/** As many values of a tag as there are marks to tell them apart. */
const VALUES_AT_MOST = 12;

/** Names of the tags that some point has. */
export function tagNames({ points }: ChartView): string[] {
  return [...new Set(points.flatMap(({ tags }) => Object.keys(tags)))].sort();
}

/** The values of a tag, the more frequent first. */
export function tagValues({ points }: ChartView, tag: string): string[] {
  const count = new Map<string, number>();
  for (const { tags } of points) {
    const value = tags[tag];
    if (value !== undefined) count.set(value, (count.get(value) ?? 0) + 1);
  }
  return [...count]
    .sort(([a, m], [b, n]) => n - m || a.localeCompare(b))
    .slice(0, VALUES_AT_MOST)
    .map(([value]) => value);
}

/** Which of the values each mark has; nothing where it has none of them. */
export function toldBy(
  tag: string,
  values: readonly string[],
  views: readonly (ChartView | null)[],
  { number }: ChartModel,
): (number | null)[] {
  const of = new Map<number, number>();
  for (const view of views) {
    for (const point of view?.points ?? []) {
      const value = values.indexOf(point.tags[tag] ?? '');
      if (value !== -1) of.set(point.number, value);
    }
  }
  return number.map((one) => of.get(one) ?? null);
}
