import { Box, useTheme } from '@mui/material';
import { scaleLinear } from 'd3-scale';
import { useRef } from 'react';
import type { OverTimeAnswer } from '../../api/client';
import { extent } from '../../plot/extent';
import { through } from '../../plot/lines';
import { shapes } from '../../plot/shapes';
import { useSize } from '../../plot/useSize';
import { figure } from '../../words/numbers';
import { OVER_TIME } from '../../words/overTime';

const [LEFT, RIGHT, TOP, HEIGHT] = [64, 92, 12, 260];
/** Room for the name of a period. */
const EVERY = 96;

/** Periods from left to right between their limits; those beyond are ringed, one that goes on still is hollow. */
export function PeriodsDrawing({
  answer: { periods, limits },
  decimals,
  label,
  onPeriod,
}: {
  answer: OverTimeAnswer;
  decimals: number;
  label: string;
  onPeriod: (period: OverTimeAnswer['periods'][number]) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const { ink } = useTheme();
  const right = width - RIGHT;
  const bottom = TOP + HEIGHT;
  const x = scaleLinear([0, Math.max(1, periods.length - 1)], [LEFT + 10, right - 10]);
  const y = scaleLinear(extent([...periods.map(({ value }) => value), limits?.lower, limits?.upper]), [bottom, TOP]);
  const drawn = periods.flatMap((period, i) =>
    period.value == null ? [] : [{ ...period, at: i, value: period.value }],
  );
  const places = (of: typeof drawn) => of.map(({ at, value }) => [x(at), y(value)] as const);
  const every = Math.max(1, Math.ceil((periods.length * EVERY) / Math.max(1, right - LEFT)));
  const wide = Math.max(3, (right - LEFT) / Math.max(1, periods.length));
  return (
    <Box ref={box} sx={{ minHeight: bottom + 30 }}>
      {width > 0 && (
        <svg width={width} height={bottom + 30} role="group" aria-label={label} style={{ display: 'block' }}>
          {limits &&
            (
              [
                [OVER_TIME.upper, limits.upper, '7 4'],
                [OVER_TIME.center, limits.center, undefined],
                [OVER_TIME.lower, limits.lower, '7 4'],
              ] as const
            ).map(([name, value, dash]) => (
              <g key={name}>
                <path d={`M${LEFT},${y(value)}H${right}`} stroke={ink.line} strokeDasharray={dash} />
                <text x={right + 6} y={y(value) + 4} fontSize={12} fill={ink.line}>
                  {name} {figure(value, decimals)}
                </text>
              </g>
            ))}
          {y.ticks(5).map((tick) => (
            <text key={tick} x={LEFT - 8} y={y(tick) + 4} textAnchor="end" fontSize={12} fill={ink.line}>
              {Number(tick.toPrecision(6))}
            </text>
          ))}
          <path
            d={through(
              periods.map((_, i) => i),
              periods.map(({ value }) => value ?? Number.NaN),
              x,
              y,
            )}
            fill="none"
            stroke={ink.data}
            strokeWidth={1.25}
          />
          <path d={shapes(0, places(drawn.filter(({ running }) => !running)), 3.2)} fill={ink.data} />
          <path
            d={shapes(0, places(drawn.filter(({ running }) => running)), 3.2)}
            fill={ink.ground}
            stroke={ink.data}
            strokeDasharray="2 2"
          />
          <path
            d={shapes(0, places(drawn.filter(({ beyond }) => beyond != null)), 7)}
            fill="none"
            stroke={ink.signal}
            strokeWidth={2}
          />
          {periods.map((period, i) => {
            const words = OVER_TIME.periodSays(period.name, figure(period.value, decimals), period.samples);
            return (
              period.samples > 0 && (
                <rect
                  key={period.began}
                  x={x(i) - wide / 2}
                  y={TOP}
                  width={wide}
                  height={HEIGHT}
                  fill="transparent"
                  role="button"
                  tabIndex={0}
                  aria-label={words}
                  style={{ cursor: 'pointer' }}
                  onClick={() => onPeriod(period)}
                  onKeyDown={(event) => {
                    if (event.key === 'Enter' || event.key === ' ') {
                      event.preventDefault();
                      onPeriod(period);
                    }
                  }}
                >
                  <title>{words}</title>
                </rect>
              )
            );
          })}
          <path d={`M${LEFT},${bottom}H${right}`} stroke={ink.line} />
          {periods.map(
            (period, i) =>
              i % every === 0 && (
                <text key={period.began} x={x(i)} y={bottom + 18} textAnchor="middle" fontSize={12} fill={ink.line}>
                  {period.name}
                </text>
              ),
          )}
        </svg>
      )}
    </Box>
  );
}
