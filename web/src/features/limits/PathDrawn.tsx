import { Paper, Typography } from '@mui/material';
import { useMemo } from 'react';
import type { LimitsPath, LimitsView } from '../../api/client';
import { ControlChart } from '../../chart/ControlChart';
import { fromDrawing } from '../../chart/fromDrawing';
import type { ChartModel } from '../../chart/model';
import { panelTitle, spanLabel } from '../../words/signals';
import { LIMITS } from '../../words/limits';
import { StretchPick } from './StretchPick';

/** The points under the revised limits, the trial ones beside them. */
export function PathDrawn({
  view,
  path,
  looked,
  onLook,
}: {
  view: LimitsView;
  path: LimitsPath;
  looked: string | undefined;
  onLook: (sample: string) => void;
}) {
  const selected = path.chart.samples.findIndex((sample) => sample.sample != null && sample.sample === looked);
  const model = useMemo(() => modelOf(view, path, selected), [view, path, selected]);
  return (
    <Paper component="section" aria-label={LIMITS.chart} sx={{ p: 1.5, pt: 1 }}>
      <ControlChart
        model={model}
        height={400}
        selected={selected === -1 ? null : selected}
        onSelect={(point) => {
          const sample = point === null ? null : path.chart.samples[point]?.sample;
          if (sample != null) onLook(sample);
        }}
      />
      <Typography color="text.secondary" variant="body2">
        {path.first != null || path.last != null ? LIMITS.usesStretch(path.points) : LIMITS.usesAll(path.points)}
      </Typography>
      <StretchPick characteristic={view.characteristic.id} />
    </Paper>
  );
}

function modelOf(view: LimitsView, path: LimitsPath, looked: number): ChartModel {
  const { characteristic: c, phases } = view;
  const { samples, panels, patterns } = path.chart;
  const phase = phases.find((p) => p.id === path.phase);
  // While nothing is set aside both are the same, and one is enough to see.
  const beside = samples.some(({ aside }) => aside) ? path.trial : null;
  return {
    title: `${c.name}, ${c.station}`,
    decimals: c.decimals,
    unit: c.unit,
    panelTitle: (statistic) => panelTitle(statistic, c),
    ...fromDrawing(path.chart),
    panels: panels.map((panel) => {
      const lines = beside?.lines.find((line) => line.panel === panel.statistic);
      return { ...panel, beside: lines && { name: LIMITS.trialBeside, ...lines } };
    }),
    periods: phase ? [{ start: 0, end: samples.length - 1, name: phase.name, state: phase.state }] : [],
    // The patterns of the point that is looked at; all of them would hide the points.
    spans: patterns.flatMap((pattern, i) =>
      pattern.from <= looked && looked <= pattern.to
        ? [
            {
              ...pattern,
              id: String(i),
              label: spanLabel(pattern.rule, pattern.side, pattern.panel),
              state: 'open' as const,
            },
          ]
        : [],
    ),
  };
}
