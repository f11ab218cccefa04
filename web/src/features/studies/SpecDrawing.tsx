import { Box, useTheme } from '@mui/material';
import { scaleLinear } from 'd3-scale';
import { useMemo, useRef } from 'react';
import type { CapabilityAnswer } from '../../api/client';
import { through } from '../../plot/lines';
import { useSize } from '../../plot/useSize';
import { ValueAxis } from '../../plot/ValueAxis';
import { CAPABILITY } from '../../words/capability';
import { figure } from '../../words/numbers';
import { ValueBars } from './ValueBars';

/** A figure of the axis nearer to a limit than this would stand on its line. */
const BESIDE_LIMIT = 24;
const [LEFT, RIGHT, TOP] = [44, 14, 26];
/** Height of the bars, and of a span below them. */
const [BARS, SPAN] = [260, 24];

interface Props {
  answer: CapabilityAnswer;
  percent: boolean;
  /** From its lower edge up to its upper one. */
  onBar: (from: number, to: number, last: boolean) => void;
}

/**
 * The values in bars between the walls of the specification; below them, on the same scale, how wide the specification
 * is and how wide the process.
 */
export function SpecDrawing({ answer, percent, onBar }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const { ink } = useTheme();
  const { histogram, curves, specification: spec, about, capability: c } = answer;
  const spans = useMemo(() => spansOf(answer), [answer]);
  const right = width - RIGHT;
  const xs = curves[0]?.x ?? histogram.edges;
  const x = scaleLinear([xs[0] ?? 0, xs[xs.length - 1] ?? 1], [LEFT, right]);
  const highest = Math.max(1, ...histogram.counts, ...curves.flatMap((curve) => curve.count));
  const y = scaleLinear([0, highest * 1.06], [TOP + BARS, TOP]);
  const walls = [
    ['LSL', spec.lsl],
    ['USL', spec.usl],
  ] as const;
  const bottom = TOP + BARS;
  const height = bottom + 30 + spans.length * SPAN + 10;
  const ticks = scaleLinear(percent ? [0, (100 * highest * 1.06) / c.n] : [0, highest * 1.06], [bottom, TOP]);
  return (
    <Box ref={box} sx={{ minHeight: height }}>
      {width > 0 && (
        <svg width={width} height={height} role="group" aria-label={CAPABILITY.against} style={{ display: 'block' }}>
          <title>{CAPABILITY.says(answer, about.decimals, about.unit)}</title>
          {walls.map(([name, limit]) => {
            if (limit == null) return null;
            const [from, to] = name === 'LSL' ? [LEFT, x(limit)] : [x(limit), right];
            return (
              <rect
                key={name}
                x={from}
                y={TOP}
                width={Math.max(0, to - from)}
                height={BARS}
                fill={ink.signal}
                opacity={0.09}
              />
            );
          })}
          {ticks.ticks(4).map((tick) => (
            <g key={tick}>
              <path d={`M${LEFT},${ticks(tick)}H${right}`} stroke={ink.faint} />
              <text x={LEFT - 6} y={ticks(tick) + 4} textAnchor="end" fontSize={12} fill={ink.line}>
                {tick}
                {percent ? ' %' : ''}
              </text>
            </g>
          ))}
          <ValueBars
            histogram={histogram}
            x={x}
            y={y}
            label={(from, to, count) =>
              CAPABILITY.bar(figure(from, about.decimals + 1), figure(to, about.decimals + 1), count)
            }
            outside={(from, to) => (spec.lsl != null && to <= spec.lsl) || (spec.usl != null && from > spec.usl)}
            onBar={onBar}
          />
          {curves.map((curve) => (
            <path
              key={curve.of}
              d={through(curve.x, curve.count, x, y)}
              fill="none"
              stroke={ink.data}
              strokeWidth={curve.of === 'overall' ? 2 : 1.5}
              strokeDasharray={curve.of === 'within' ? '6 4' : undefined}
              pointerEvents="none"
            />
          ))}
          {walls.map(
            ([name, limit]) =>
              limit != null && (
                <g key={name} pointerEvents="none">
                  <path d={`M${x(limit)},${TOP - 4}V${height - 6}`} stroke={ink.data} strokeWidth={2} />
                  <text x={x(limit)} y={TOP - 10} textAnchor="middle" fontSize={13} fontWeight={650} fill={ink.data}>
                    {name} {figure(limit, about.decimals)}
                  </text>
                </g>
              ),
          )}
          {spec.target != null && (
            <path d={`M${x(spec.target) - 6},${bottom}l6,-8l6,8z`} fill={ink.data} pointerEvents="none">
              <title>{figure(spec.target, about.decimals)}</title>
            </path>
          )}
          <ValueAxis
            x={x}
            y={bottom}
            colour={ink.line}
            rule={ink.line}
            // A limit stands over its line already.
            label={(value) =>
              walls.some(([, limit]) => limit != null && Math.abs(x(limit) - x(value)) < BESIDE_LIMIT)
                ? ''
                : figure(value, decimalsOf(x, about.decimals))
            }
          />
          {spans.map(({ name, from, to, dashed }, i) => {
            const at = bottom + 40 + i * SPAN;
            return (
              <g key={name}>
                <path
                  d={`M${x(from)},${at - 5}v10M${x(from)},${at}H${x(to)}M${x(to)},${at - 5}v10`}
                  stroke={ink.data}
                  strokeWidth={i === 0 ? 2.5 : 1.75}
                  strokeDasharray={dashed ? '6 4' : undefined}
                  fill="none"
                />
                <text
                  x={(Math.max(LEFT, x(from)) + Math.min(right, x(to))) / 2}
                  y={at - 5}
                  textAnchor="middle"
                  fontSize={12}
                  fill={ink.data}
                  stroke={ink.ground}
                  strokeWidth={4}
                  paintOrder="stroke"
                >
                  {name}
                </text>
              </g>
            );
          })}
        </svg>
      )}
    </Box>
  );
}

/** Ticks closer than a digit of the characteristic get one more. */
function decimalsOf(x: { ticks: (n: number) => number[] }, decimals: number): number {
  const [first, second] = x.ticks(8);
  const step = (second ?? 1) - (first ?? 0);
  return step < 10 ** -decimals ? decimals + 1 : decimals;
}

/** The width of the specification, of six sigma within, and of what 99.73 % take up. */
function spansOf({ specification: s, capability: c, reach }: CapabilityAnswer) {
  const spans: { name: string; from: number; to: number; dashed: boolean }[] = [];
  const { specification, within, overall } = CAPABILITY.spans;
  if (s.lsl != null && s.usl != null) spans.push({ name: specification, from: s.lsl, to: s.usl, dashed: false });
  if (reach.within && c.sigma_within != null)
    spans.push({ name: within, from: reach.within[0] ?? 0, to: reach.within[1] ?? 0, dashed: true });
  spans.push({ name: overall, from: reach.overall[0] ?? 0, to: reach.overall[1] ?? 0, dashed: false });
  return spans;
}
