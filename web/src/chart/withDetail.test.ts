import { describe, expect, it } from 'vitest';
import type { ChartModel, Panel } from './model';
import { standsFor } from './model';
import { withDetail } from './withDetail';

const panel = (of: Partial<Panel>): Panel => ({
  statistic: 'mean',
  value: [],
  lines: [],
  flagged: [],
  zones: [],
  ...of,
});
const chart = (of: Partial<ChartModel>): ChartModel => ({
  title: '',
  decimals: 2,
  unit: 'mm',
  panelTitle: String,
  places: 0,
  place: [],
  number: [],
  takenAt: [],
  aside: new Set(),
  restarts: [],
  panels: [],
  traces: [],
  periods: [],
  spans: [],
  remarks: [],
  happenings: [],
  ...of,
});

/** A hundred samples, of which six are drawn. */
const whole = chart({
  places: 100,
  place: [0, 20, 40, 60, 80, 99],
  number: [1, 21, 41, 61, 81, 100],
  takenAt: [0, 20, 40, 60, 80, 99],
  aside: new Set([1, 4]),
  restarts: [40, 80],
  panels: [
    panel({
      value: [0, 20, 40, 60, 80, 99],
      lines: [
        { from: 0, to: 3, center: 5 },
        { from: 4, to: 5, center: 6 },
      ],
      flagged: [0, 2, 5],
    }),
  ],
  spans: [
    { id: 'a', label: '', panel: 'mean', from: 0, at: 0, to: 3, state: 'open' },
    { id: 'bundle', label: '', panel: 'mean', from: 40, at: 41, to: 55, state: 'open' },
    { id: 'z', label: '', panel: 'mean', from: 90, at: 91, to: 99, state: 'reviewed' },
  ],
  remarks: [
    { place: 40, text: 'seen from afar' },
    { place: 80, text: 'later' },
  ],
});

/** Those from 41 to 61, each of them. */
const detail = chart({
  places: 21,
  place: Array.from({ length: 21 }, (_, i) => i),
  number: Array.from({ length: 21 }, (_, i) => 41 + i),
  takenAt: Array.from({ length: 21 }, (_, i) => 40 + i),
  aside: new Set([3]),
  restarts: [0],
  panels: [
    panel({
      value: Array.from({ length: 21 }, (_, i) => 40 + i),
      lines: [{ from: 0, to: 20, center: 5 }],
      flagged: [0, 7],
    }),
  ],
  spans: [
    { id: 'b', label: '', panel: 'mean', from: 0, at: 1, to: 2, state: 'open' },
    { id: 'c', label: '', panel: 'mean', from: 6, at: 7, to: 15, state: 'open' },
  ],
  remarks: [{ place: 0, text: 'seen closely' }],
});

describe('a chart of which a stretch is known better', () => {
  const better = withDetail(whole, 2, 3, detail);

  it('has each sample there, and what it had elsewhere, in order', () => {
    expect(better.place).toEqual([0, 20, ...Array.from({ length: 21 }, (_, i) => 40 + i), 80, 99]);
    expect(better.number[2 + 7]).toBe(48);
    expect(better.panels[0]?.value).toEqual(better.place);
    expect(better.places).toBe(100);
  });

  it('flags, sets aside and starts afresh at the same samples', () => {
    expect(better.panels[0]?.flagged.map((mark) => better.number[mark])).toEqual([1, 41, 48, 100]);
    expect([...better.aside].map((mark) => better.number[mark])).toEqual([21, 44, 81]);
    expect(better.restarts).toEqual([40, 80]);
  });

  it('has the lines of each mark', () => {
    const center = (mark: number) => better.panels[0]?.lines.find((l) => l.from <= mark && mark <= l.to)?.center;
    expect(better.place.map((place, mark) => [place, center(mark)])).toEqual(
      better.place.map((place) => [place, place < 80 ? 5 : 6]),
    );
  });

  it('tells apart there what was one bar from afar, and says nothing twice', () => {
    expect(better.spans.map(({ id, from }) => [id, from])).toEqual([
      ['a', 0],
      ['z', 90],
      ['b', 40],
      ['c', 46],
    ]);
    expect(better.remarks.map(({ text }) => text)).toEqual(['later', 'seen closely']);
  });

  it('says how many samples a mark stands for', () => {
    expect([0, 1, 2, 22, 24].map((mark) => standsFor(better, mark))).toEqual([20, 20, 1, 20, 1]);
  });
});
