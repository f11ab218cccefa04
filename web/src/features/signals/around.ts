import type { EpisodeView } from '../../api/client';
import { queries } from '../../api/queries';

/** Points before the pattern that are shown with it. */
const BEFORE = 30;
const POINTS_AT_MOST = 200;

/** The chart around a pattern. */
export function around({ characteristic, to_sample: until, from_number: from, to_number: to }: EpisodeView) {
  return queries.chartAround(characteristic, until, Math.min(POINTS_AT_MOST, to - from + BEFORE));
}
