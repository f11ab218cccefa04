import type { ChartModel, Lines, Panel, Zones } from './model';

/**
 * A chart of which one stretch is known better: its marks take the place of those of the whole from mark `first` to
 * mark `last`, which are the first and the last sample of the stretch.
 */
export function withDetail(whole: ChartModel, first: number, last: number, detail: ChartModel): ChartModel {
  const [from, to] = [whole.place[first] ?? 0, whole.place[last] ?? 0];
  const added = detail.place.length - (last - first + 1);
  const joined = <T>(of: readonly T[], better: readonly T[]) => [
    ...of.slice(0, first),
    ...better,
    ...of.slice(last + 1),
  ];
  const outside = ({ place }: { place: number }) => place < from - 0.5 || place > to + 0.5;
  const moved = <T extends { place: number }>(all: readonly T[]) =>
    all.map((one) => ({ ...one, place: one.place + from }));
  const behind = (mark: number) => mark + added;
  /** Stretches of marks, cut at the ends of what is known better. */
  const stretches = <T extends Lines | Zones>(of: readonly T[], better: readonly T[]): T[] => [
    ...of.filter((one) => one.from < first).map((one) => ({ ...one, to: Math.min(one.to, first - 1) })),
    ...better.map((one) => ({ ...one, from: one.from + first, to: one.to + first })),
    ...of
      .filter((one) => one.to > last)
      .map((one) => ({ ...one, from: behind(Math.max(one.from, last + 1)), to: behind(one.to) })),
  ];
  const panel = (of: Panel): Panel => {
    const better = detail.panels.find(({ statistic }) => statistic === of.statistic);
    if (!better) return of;
    return {
      ...of,
      value: joined(of.value, better.value),
      lines: stretches(of.lines, better.lines),
      zones: stretches(of.zones, better.zones),
      flagged: [
        ...of.flagged.filter((mark) => mark < first),
        ...better.flagged.map((mark) => mark + first),
        ...of.flagged.filter((mark) => mark > last).map(behind),
      ],
    };
  };
  const aside = [...whole.aside];
  return {
    ...whole,
    place: joined(
      whole.place,
      detail.place.map((place) => place + from),
    ),
    number: joined(whole.number, detail.number),
    takenAt: joined(whole.takenAt, detail.takenAt),
    aside: new Set([
      ...aside.filter((mark) => mark < first),
      ...[...detail.aside].map((mark) => mark + first),
      ...aside.filter((mark) => mark > last).map(behind),
    ]),
    restarts: [
      ...whole.restarts.filter((place) => outside({ place })),
      ...detail.restarts.map((place) => place + from),
    ].sort((a, b) => a - b),
    panels: whole.panels.map(panel),
    // Components are known of each point, or of none.
    traces: detail.traces.map((trace) => ({
      ...trace,
      values: joined(Array<null>(whole.place.length).fill(null), trace.values),
    })),
    spans: [
      ...whole.spans.filter((span) => span.to < from || span.from > to),
      ...detail.spans.map((span) => ({ ...span, from: span.from + from, at: span.at + from, to: span.to + from })),
    ],
    remarks: [...whole.remarks.filter(outside), ...moved(detail.remarks)],
    happenings: [...whole.happenings.filter(outside), ...moved(detail.happenings)],
  };
}
