import type { Drawing } from '../api/client';
import type { ChartModel } from './model';

/** What is drawn of points that are only looked at. */
export function fromDrawing({
  samples,
  panels,
}: Pick<Drawing, 'samples' | 'panels'>): Pick<
  ChartModel,
  'places' | 'place' | 'number' | 'takenAt' | 'aside' | 'restarts' | 'panels' | 'traces' | 'remarks' | 'happenings'
> {
  return {
    places: samples.length,
    place: samples.map((_, i) => i),
    number: samples.map(({ number }) => number),
    takenAt: samples.map(({ taken_at }) => Date.parse(taken_at)),
    aside: new Set(samples.flatMap(({ aside }, i) => (aside ? [i] : []))),
    restarts: samples.flatMap(({ restart }, i) => (restart ? [i] : [])),
    panels,
    traces: [],
    remarks: [],
    happenings: [],
  };
}
