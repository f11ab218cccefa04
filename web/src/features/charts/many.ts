/** Which of many charts are shown, and in which order; the address says it. */

import type { SmallChart } from '../../api/client';

export const STRETCHES = ['40', '100', '400', 'day', 'week', 'month'] as const;
export type Stretch = (typeof STRETCHES)[number];

const DAY_MS = 86_400_000;
const LASTS: Partial<Record<Stretch, number>> = { '40': 40, '100': 100, '400': 400 };
const DAYS: Partial<Record<Stretch, number>> = { day: 1, week: 7, month: 31 };

export function stretchOf(params: URLSearchParams): Stretch {
  return STRETCHES.find((stretch) => stretch === params.get('stretch')) ?? '40';
}

/** So many last points, or all since a time; that begins with the hour, so that charts asked for twice are the same. */
export function askedOf(stretch: Stretch, now: number): { last?: number; since?: string } {
  const days = DAYS[stretch];
  if (days === undefined) return { last: LASTS[stretch] ?? 40 };
  const hour = Math.floor(now / 3_600_000) * 3_600_000;
  return { since: new Date(hour - days * DAY_MS).toISOString() };
}

/** What charts are narrowed by, beside words. */
export const NARROWS = ['area', 'station', 'product', 'label'] as const;
export type Narrow = (typeof NARROWS)[number];

const valuesOf = (chart: SmallChart, narrow: Narrow): readonly string[] =>
  narrow === 'label' ? chart.labels : [chart[narrow]];

/** What there is to narrow by. */
export function choicesOf(charts: readonly SmallChart[], narrow: Narrow): string[] {
  return [...new Set(charts.flatMap((chart) => valuesOf(chart, narrow)))].sort((a, b) => a.localeCompare(b));
}

/** The charts that are asked for, pinned ones first where nothing else is said. */
export function shown(charts: readonly SmallChart[], params: URLSearchParams): SmallChart[] {
  const words = (params.get('find') ?? '').toLowerCase();
  const found = charts.filter(
    (chart) =>
      [chart.name, chart.product, chart.station, ...chart.labels].join(' ').toLowerCase().includes(words) &&
      (params.get('pinned') !== '1' || chart.pinned) &&
      NARROWS.every((narrow) => {
        const wanted = params.get(narrow);
        return wanted === null || valuesOf(chart, narrow).includes(wanted);
      }),
  );
  if (params.get('order') !== 'place') found.sort(worse);
  return found;
}

/** What waits for somebody before what does not, then what lies farther from its centre. */
export function worse(a: SmallChart, b: SmallChart): number {
  const far = ({ newest_z: z }: SmallChart) => Math.abs(z ?? 0);
  return b.open_episodes - a.open_episodes || far(b) - far(a);
}
