/** How the height of a chart is shared out: panels are what is looked at, lanes get what they need and no more. */

import { scaleLinear } from 'd3-scale';
import type { Panel, Pencil } from './model';
import { reach } from './panel';
import { ROWS_AT_MOST } from './spans';

/** Height of the lane of phases, of a panel's title, of the axis, of a row of signals, of the diary, of traces. */
export const PERIODS = 24;
const TITLE = 20;
export const AXIS = 22;
export const ROW = 19;
const DIARY = 20;
export const TRACES = 76;
const PANELS_AT_LEAST = 120;
/** What of the height each panel gets, by how many there are. */
const SHARES: Record<number, readonly number[]> = { 1: [1], 2: [0.64, 0.36], 3: [0.5, 0.25, 0.25] };

/** Panels are what is looked at: the signal lane never takes more than a fifth from them. */
export const rowsAtMost = (height: number) => Math.max(1, Math.min(ROWS_AT_MOST, Math.floor(height / 5 / ROW)));

export interface Heights {
  /** Where each panel begins, and how high it is. */
  panels: readonly { top: number; height: number }[];
  panelsEnd: number;
  signals: number;
  diary: number;
  bottom: number;
}

export function heightsOf(of: {
  height: number;
  rows: number;
  hasDiary: boolean;
  hasTraces: boolean;
  panels: number;
}): Heights {
  const traces = of.hasTraces ? TRACES : 0;
  const lanes = traces + of.rows * ROW + (of.rows > 0 ? 6 : 0) + (of.hasDiary ? DIARY : 0);
  const room = Math.max(PANELS_AT_LEAST, of.height - PERIODS - AXIS - lanes - TITLE * of.panels);
  const shares = SHARES[of.panels] ?? Array<number>(of.panels).fill(1 / of.panels);
  let top = PERIODS;
  const panels = shares.map((share) => {
    const panel = { top: top + TITLE, height: room * share };
    top += TITLE + panel.height;
    return panel;
  });
  const signals = top + traces + 8;
  return { panels, panelsEnd: top, signals, diary: signals + of.rows * ROW, bottom: top + lanes + 4 };
}

export function framesOf(panels: readonly Panel[], heights: Heights, pencil: readonly Pencil[] | undefined) {
  return panels.map((panel, i) => {
    const { top, height } = heights.panels[i] ?? { top: PERIODS, height: 0 };
    const drawn = pencil?.find((p) => p.statistic === panel.statistic);
    const y = scaleLinear(reach(panel, drawn), [top + height - 4, top + 4]);
    return { panel, top, height, y: (value: number) => y(value), pencil: drawn };
  });
}
