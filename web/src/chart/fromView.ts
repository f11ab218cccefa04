import type { ChartView } from '../api/client';
import type { ChartModel } from './model';

/** The chart's own model from what the server sends. */
export function fromView(view: ChartView): ChartModel {
  const { characteristic: c } = view;
  return {
    title: `${c.name}, ${c.station}`,
    decimals: c.decimals,
    unit: c.unit,
    samples: view.points,
    panels: view.panels,
    periods: view.phases.map((phase) => ({
      start: phase.start,
      end: phase.end,
      name: phase.limits.name,
      trial: phase.limits.state === 'trial',
    })),
    spans: view.signals,
    remarks: view.notes,
  };
}
