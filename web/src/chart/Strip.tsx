import { useTheme } from '@mui/material';
import { brokenLine } from '../plot/marks';
import { Overview } from '../plot/Overview';
import type { View } from '../plot/useView';
import { CHART } from '../words/chart';
import { asks, type ChartModel } from './model';
import { reach } from './panel';

interface Props {
  model: ChartModel;
  width: number;
  left: number;
  right: number;
  view: View;
  /** How many places the axis has. */
  axis: number;
}

/** All places of the axis in a strip: the first panel in outline, and what asks. */
export function Strip({ model, width, left, right, view, axis }: Props) {
  const { ink } = useTheme();
  const [panel] = model.panels;
  const scale = (right - left) / Math.max(1, axis);
  const x = (place: number) => left + (place + 0.5) * scale;
  const { window } = view;
  return (
    <Overview
      width={width}
      left={left}
      right={right}
      outline={(top, bottom) => (panel ? outlineOf(panel, model.place, x, top, bottom) : '')}
      bars={model.spans.filter(asks).map(({ from, to }) => ({ from: x(from - 0.5), to: x(to + 0.5) }))}
      seen={window && { from: Math.max(left, x(window.from - 0.5)), to: Math.min(right, x(window.to + 0.5)) }}
      placeAt={(px) => (px - left) / scale - 0.5}
      onWindow={view.show}
      ink={ink}
      label={CHART.overview}
      says={window ? CHART.seen(Math.ceil(window.from) + 1, Math.floor(window.to) + 1, model.places) : CHART.seenAll}
      panBy={view.panBy}
    />
  );
}

function outlineOf(
  panel: ChartModel['panels'][number],
  place: readonly number[],
  x: (place: number) => number,
  top: number,
  bottom: number,
): string {
  const [low, high] = reach(panel, undefined);
  const y = (value: number) => bottom - ((value - low) / (high - low || 1)) * (bottom - top);
  return brokenLine(panel.value.map((value, i) => (value === null ? null : [x(place[i] ?? 0), y(value)])));
}
