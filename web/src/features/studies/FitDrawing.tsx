import { Box, useTheme } from '@mui/material';
import { scaleLinear } from 'd3-scale';
import { useRef } from 'react';
import type { ProbabilityPlot } from '../../api/client';
import { extent } from '../../plot/extent';
import { shapes } from '../../plot/shapes';
import { useSize } from '../../plot/useSize';
import { ValueAxis } from '../../plot/ValueAxis';
import { CAPABILITY } from '../../words/capability';
import { figure } from '../../words/numbers';

const [LEFT, RIGHT, TOP, HEIGHT] = [52, 14, 10, 300];
/** Shares that the upright axis names. */
const SHARES = [0.001, 0.01, 0.05, 0.1, 0.25, 0.5, 0.75, 0.9, 0.95, 0.99, 0.999];

/** Each value against where the fitted family would have it: a straight line, and the band it stays in by chance. */
export function FitDrawing({
  plot,
  fitted,
  inside,
  decimals,
}: {
  plot: ProbabilityPlot;
  /** Where the distribution has each value. */
  fitted: readonly number[];
  inside: boolean;
  decimals: number;
}) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const { ink } = useTheme();
  const right = width - RIGHT;
  const bottom = TOP + HEIGHT;
  // The band of the tails is wider than all values: what of it has no room ends at the edge.
  const x = scaleLinear(extent(plot.points.map(({ value }) => value)), [LEFT, right]).clamp(true);
  const quantiles = plot.points.map(({ quantile }) => quantile);
  const y = scaleLinear(extent(quantiles, 0.04), [bottom, TOP]);
  const shares = SHARES.flatMap((share) => {
    const near = plot.points.findIndex(({ rank }) => rank >= share);
    const [at, before] = [plot.points[near], plot.points[near - 1]];
    if (!at || !before) return [];
    const part = (share - before.rank) / (at.rank - before.rank);
    return [{ share, quantile: before.quantile + part * (at.quantile - before.quantile) }];
  });
  return (
    <Box ref={box} sx={{ minHeight: bottom + 30 }}>
      {width > 0 && (
        <svg width={width} height={bottom + 30} role="img" aria-label={CAPABILITY.plotSays(plot.family, inside)}>
          {shares.map(({ share, quantile }) => (
            <g key={share}>
              <path d={`M${LEFT},${y(quantile)}H${right}`} stroke={ink.faint} />
              <text x={LEFT - 6} y={y(quantile) + 4} textAnchor="end" fontSize={12} fill={ink.line}>
                {figure(100 * share, share < 0.01 || share > 0.99 ? 1 : 0)} %
              </text>
            </g>
          ))}
          <path d={sideways(plot, x, y)} fill={ink.tint} opacity={0.09} />
          <path d={line(plot, fitted, x, y)} stroke={ink.data} strokeWidth={1.5} fill="none" />
          <path
            d={shapes(
              0,
              plot.points.map(({ value, quantile }) => [x(value), y(quantile)] as const),
              2.6,
            )}
            fill={ink.data}
          />
          <ValueAxis x={x} y={bottom} colour={ink.line} rule={ink.line} label={(value) => figure(value, decimals)} />
        </svg>
      )}
    </Box>
  );
}

type Scale = (value: number) => number;

/** The band between its ends, value sideways and quantile upright. */
function sideways(plot: ProbabilityPlot, x: Scale, y: Scale): string {
  const at = (value: number, quantile: number) => `${x(value).toFixed(1)},${y(quantile).toFixed(1)}`;
  const low = plot.band.map(({ low, quantile }) => at(low, quantile));
  const high = plot.band.map(({ high, quantile }) => at(high, quantile)).reverse();
  return `M${[...low, ...high].join('L')}Z`;
}

/** Where the fit has each value. */
function line(plot: ProbabilityPlot, fitted: readonly number[], x: Scale, y: Scale): string {
  const at = plot.points.map(({ quantile }, i) => `${x(fitted[i] ?? 0).toFixed(1)},${y(quantile).toFixed(1)}`);
  return `M${at.join('L')}`;
}
