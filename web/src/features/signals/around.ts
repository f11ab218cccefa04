import type { EpisodeSignal, EpisodeView } from '../../api/client';
import { queries } from '../../api/queries';

/** Points before the pattern that are shown with it. */
const BEFORE = 30;
const POINTS_AT_MOST = 200;

/** Where a pattern lies. */
type Lies = Pick<EpisodeSignal, 'characteristic' | 'to_sample' | 'from_number' | 'to_number'>;

/** The charts that show an episode: its own, and of a run one more for each other level that has a signal. */
export function shownOn(episode: EpisodeView): { lies: Lies; level: string | null }[] {
  const level = (of: string) => episode.signals.find(({ characteristic }) => characteristic === of)?.level ?? null;
  const charts: { lies: Lies; level: string | null }[] = [{ lies: episode, level: level(episode.characteristic) }];
  for (const signal of episode.signals) {
    if (charts.every(({ lies }) => lies.characteristic !== signal.characteristic))
      charts.push({ lies: signal, level: signal.level ?? null });
  }
  return charts;
}

/** The chart around a pattern. */
export function around({ characteristic, to_sample: until, from_number: from, to_number: to }: Lies) {
  return queries.chart(characteristic, { until, last: Math.min(POINTS_AT_MOST, Math.abs(to - from) + BEFORE) });
}
