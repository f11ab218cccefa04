import type { ChartView } from '../api/client';
import { POINT } from '../words/charts';
import { episodeLabel } from '../words/episodes';
import { POINT_DEEDS } from '../words/limits';
import { panelTitle } from '../words/signals';
import type { ChartModel, Happening, Remark } from './model';

/** The chart's own model from what the server sends. */
export function fromView(view: ChartView): ChartModel {
  const { characteristic: c } = view;
  return {
    title: `${c.name}, ${c.station}`,
    decimals: c.decimals,
    unit: c.unit,
    panelTitle: (statistic) => panelTitle(statistic, c),
    samples: view.points,
    aside: new Set(view.points.flatMap((point, i) => (point.aside == null ? [] : [i]))),
    restarts: view.points.flatMap((point, i) => (point.restart == null ? [] : [i])),
    panels: view.panels,
    traces: c.components.map((name, i) => ({
      name,
      values: view.points.map(({ content }) =>
        content != null && 'readings' in content ? (content.readings.components[i] ?? null) : null,
      ),
    })),
    periods: view.phases.map((phase) => ({
      start: phase.start,
      end: phase.end,
      name: phase.limits.name,
      state: phase.limits.state,
    })),
    spans: view.episodes.map(({ patterns, ...episode }) => ({
      ...episode,
      label: episodeLabel(patterns),
      panel: patterns[0]?.panel ?? view.panels[0]?.statistic ?? 'value',
    })),
    remarks: [...view.notes, ...gaps(view), ...said(view)],
    happenings: happenings(view),
  };
}

/** Why places are empty. */
function gaps(view: ChartView): Remark[] {
  return view.points.flatMap(({ gap }, point) =>
    gap == null ? [] : [{ point, text: POINT[gap.withdrawn ? 'withdrawn' : 'skipped'](gap.person, gap.because) }],
  );
}

/** What was said of points. */
function said(view: ChartView): Remark[] {
  return view.points.flatMap(({ aside, restart }, point) => [
    ...(aside == null ? [] : [{ point, text: POINT_DEEDS.isAside(aside.person, aside.at, aside.because) }]),
    ...(restart == null ? [] : [{ point, text: POINT_DEEDS.isRestart(restart.person, restart.at, restart.because) }]),
  ]);
}

/** Events stand between the last sample before them and the first one after. */
function happenings(view: ChartView): Happening[] {
  return view.events.map((event) => {
    const after = view.points.findIndex((p) => p.taken_at > event.at);
    const words = [event.kind, event.lot, event.text].filter((word) => word != null && word !== '');
    return { place: (after === -1 ? view.points.length : after) - 0.5, text: words.join(' · ') };
  });
}
