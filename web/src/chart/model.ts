/** What the chart draws. It knows points and signals, no screens and no network. */

import { holdingAt } from '../api/chart';
import type { LimitsState, SignalState, Statistic } from '../api/client';

/** Marks that share centre line and limits. */
export interface Lines {
  from: number;
  to: number;
  center?: number | null | undefined;
  lower?: number | null | undefined;
  upper?: number | null | undefined;
}

/** Marks that share the edges of their zones. */
export interface Zones {
  from: number;
  to: number;
  edges: readonly number[];
}

export interface Panel {
  statistic: Statistic;
  /** Of each mark. */
  value: readonly (number | null)[];
  lines: readonly Lines[];
  /** Marks that a signal flags. */
  flagged: readonly number[];
  zones: readonly Zones[];
  /** What it has to reach over at least, as other charts beside it do. */
  range?: readonly [number, number] | undefined;
  /** What it reaches over, where somebody said so. */
  scale?: readonly [number, number] | undefined;
  /** Lines beside those that hold, as trial limits beside revised ones. */
  beside?: Beside | undefined;
}

export interface Beside {
  name: string;
  lower?: number | null;
  center?: number | null;
  upper?: number | null;
}

/** A phase, by places. */
export interface Period {
  start: number;
  end: number;
  name: string;
  /** Nothing where limits are only looked at. */
  state: LimitsState | null;
}

/** Of each chart its own ids: several stand on one page. */
export type Ids = Record<'plot' | 'lanes' | 'hatch' | 'help', string>;

/** What parts of a chart are cut off at. */
export const cutAt = (id: string) => `url(#${id})`;

/** An episode, by places: what its points did, in words, from its first point to its last. */
export interface Span {
  id: string;
  label: string;
  /** The panel of its most telling rule. */
  panel: Statistic;
  from: number;
  at: number;
  to: number;
  state: SignalState;
}

export interface Remark {
  place: number;
  text: string;
}

/** Something that happened to the process, between two places. */
export interface Happening {
  /** Where on the axis: halfway between points. */
  place: number;
  text: string;
}

/** A reference component beside the judged value, one value a mark. */
export interface Trace {
  name: string;
  values: readonly (number | null)[];
}

/** A point that is typed but not saved, on one panel. */
export interface Pencil {
  statistic: Statistic;
  value?: number | null;
  flagged: boolean;
  /** Lines of this point: with fewer pieces they are wider. */
  center?: number | null | undefined;
  lower?: number | null | undefined;
  upper?: number | null | undefined;
}

/** Samples stand at places of one axis; of very many only some are drawn, as marks. */
export interface ChartModel {
  title: string;
  decimals: number;
  unit: string;
  /** What a panel shows. */
  panelTitle: (statistic: Statistic) => string;
  /** How many places the axis has. */
  places: number;
  /** Where each mark stands, its number, and when it was taken, in milliseconds since 1970. */
  place: readonly number[];
  number: readonly number[];
  takenAt: readonly number[];
  /** Marks left out of limits and rules. */
  aside: ReadonlySet<number>;
  /** Places where rules start afresh. */
  restarts: readonly number[];
  panels: readonly Panel[];
  traces: readonly Trace[];
  periods: readonly Period[];
  /** The value of a tag that each mark has, by number, where shapes tell them apart. */
  told?: readonly (number | null)[] | undefined;
  spans: readonly Span[];
  remarks: readonly Remark[];
  happenings: readonly Happening[];
}

/** How many samples a mark stands for: itself, and those that follow it up to the next mark. */
export function standsFor({ place, places }: Pick<ChartModel, 'place' | 'places'>, mark: number): number {
  return (place[mark + 1] ?? places) - (place[mark] ?? 0);
}

/** Somebody has to say something about it. */
export const asks = ({ state }: Span) => state === 'open' || state === 'sent_back';

/** The lines that hold at a mark. */
export function linesAt({ lines }: Pick<Panel, 'lines'>, mark: number): Lines | undefined {
  return holdingAt(lines, mark);
}
