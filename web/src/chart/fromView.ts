import type { ChartView } from '../api/chart';
import type { ChartNote } from '../api/client';
import { before } from '../plot/places';
import { POINT } from '../words/charts';
import { episodeLabel, othersBeside } from '../words/episodes';
import { POINT_DEEDS } from '../words/limits';
import { panelTitle } from '../words/signals';
import type { ChartModel, Happening, Remark } from './model';

/** The chart's own model from what the server sends. */
export function fromView(view: ChartView): ChartModel {
  const { characteristic: c, marks, points } = view;
  const placeOf = (mark: number) => marks.place[mark] ?? 0;
  return {
    title: `${c.name}, ${c.station}`,
    decimals: c.decimals,
    unit: c.unit,
    panelTitle: (statistic) => panelTitle(statistic, c),
    places: view.places,
    place: marks.place,
    number: marks.number,
    takenAt: marks.taken_at,
    aside: new Set(marks.aside.map(({ point }) => point)),
    restarts: marks.restart.map(({ point }) => placeOf(point)),
    panels: view.panels,
    traces: c.components.map((name, i) => ({
      name,
      values: points.map(({ content }) =>
        content != null && 'readings' in content ? (content.readings.components[i] ?? null) : null,
      ),
    })),
    periods: view.phases.map((phase) => ({
      start: phase.start,
      end: phase.end,
      name: phase.limits.name,
      state: phase.limits.state,
    })),
    spans: view.episodes.map(({ patterns, others, ...episode }) => ({
      ...episode,
      label: others > 0 ? othersBeside(episodeLabel(patterns), others) : episodeLabel(patterns),
      panel: patterns[0]?.panel ?? view.panels[0]?.statistic ?? 'value',
    })),
    remarks: byPlace([...view.notes.map(spoken), ...said(view)]),
    happenings: happenings(view),
  };
}

/** An answer is told from what it answers. */
const spoken = ({ place, text, answers_to: answers }: ChartNote): Remark => ({
  place,
  text: answers == null ? text : `↳ ${text}`,
});

/** A point has one mark in the diary, however much was said of it. */
function byPlace(remarks: readonly Remark[]): Remark[] {
  const told = new Map<number, string[]>();
  for (const { place, text } of remarks) told.set(place, [...(told.get(place) ?? []), text]);
  return [...told].map(([place, texts]) => ({ place, text: texts.join('  ') }));
}

/** Why places are empty, and what was said of points. */
function said({ marks }: ChartView): Remark[] {
  const placeOf = (mark: number) => marks.place[mark] ?? 0;
  return [
    ...marks.gap.map(({ point, is }) => ({
      place: placeOf(point),
      text: POINT[is.withdrawn ? 'withdrawn' : 'skipped'](is.person, is.because),
    })),
    ...marks.aside.map(({ point, is }) => ({
      place: placeOf(point),
      text: POINT_DEEDS.isAside(is.person, is.at, is.because),
    })),
    ...marks.restart.map(({ point, is }) => ({
      place: placeOf(point),
      text: POINT_DEEDS.isRestart(is.person, is.at, is.because),
    })),
  ];
}

/** Events stand between the last sample before them and the first one after. */
function happenings({ events, marks, places }: ChartView): Happening[] {
  return events.map((event) => {
    const after = before(marks.taken_at, Date.parse(event.at) + 1);
    const words = [event.kind, event.lot, event.text].filter((word) => word != null && word !== '');
    return { place: (marks.place[after] ?? places) - 0.5, text: words.join(' · ') };
  });
}
