import {
  Box,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
  useTheme,
} from '@mui/material';
import { scaleLinear, scaleLog } from 'd3-scale';
import { useRef } from 'react';
import type { RuleSetsAnswer } from '../../api/client';
import { through } from '../../plot/lines';
import { shapes } from '../../plot/shapes';
import { useSize } from '../../plot/useSize';
import { ValueAxis } from '../../plot/ValueAxis';
import { figure, grouped } from '../../words/numbers';
import { ruleSetName } from '../../words/plan';
import { duration, falseAlarms, RULES_WEIGHED, rulesWeighedInWords } from '../../words/rulesWeighed';

const DASHES = [undefined, '7 4', '2 4', '9 3 2 3'];

/** How long until a shift is seen by each design, and what it costs. */
export function RuleSetsStudy({ answer }: { answer: RuleSetsAnswer }) {
  const { designs } = answer;
  const shifts = designs[0]?.sees.map(({ shift }) => shift) ?? [];
  return (
    <Stack spacing={2} sx={{ minWidth: 0 }}>
      <Paper component="section" aria-label={RULES_WEIGHED.drawing} sx={{ p: 2 }}>
        <Typography variant="h2" sx={{ mb: 1 }}>
          {RULES_WEIGHED.drawing}
        </Typography>
        {rulesWeighedInWords(answer).map((sentence) => (
          <Typography key={sentence} sx={{ mb: 0.5 }}>
            {sentence}
          </Typography>
        ))}
        <Curves answer={answer} />
        <Typography color="text.secondary" variant="body2">
          {RULES_WEIGHED.drawn}
        </Typography>
      </Paper>
      <Paper component="section" aria-label={RULES_WEIGHED.figures} sx={{ p: 2 }}>
        <Typography variant="h2" sx={{ mb: 1 }}>
          {RULES_WEIGHED.figures}
        </Typography>
        <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="group" aria-label={RULES_WEIGHED.figures}>
          <Table size="small">
            <TableHead>
              <TableRow>
                <TableCell>{RULES_WEIGHED.design}</TableCell>
                <TableCell>{RULES_WEIGHED.plan}</TableCell>
                <TableCell align="right">{RULES_WEIGHED.piecesADay}</TableCell>
                <TableCell align="right">{RULES_WEIGHED.falseAlarms}</TableCell>
                {shifts.map((shift) => (
                  <TableCell key={shift} align="right">
                    {RULES_WEIGHED.shift(shift)}
                  </TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {designs.map((design) => (
                <TableRow key={design.name}>
                  <TableCell component="th" scope="row">
                    {design.name}
                    <Typography variant="body2" color="text.secondary">
                      {ruleSetName(design.rules)}
                    </Typography>
                  </TableCell>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>
                    {RULES_WEIGHED.planSays(design.plan.pieces, design.plan.interval_minutes)}
                  </TableCell>
                  <TableCell align="right">{grouped(Math.round(design.pieces_per_day))}</TableCell>
                  <TableCell align="right">{falseAlarms(design.false_alarms_per_day, design.days_between)}</TableCell>
                  {design.sees.map(({ shift, minutes, arl }) => (
                    <TableCell key={shift} align="right" sx={{ whiteSpace: 'nowrap' }}>
                      {duration(minutes)}
                      <Typography variant="body2" color="text.secondary">
                        {RULES_WEIGHED.samples(figure(arl, arl < 10 ? 2 : 1))}
                      </Typography>
                    </TableCell>
                  ))}
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Box>
      </Paper>
    </Stack>
  );
}

const [LEFT, RIGHT, TOP, HEIGHT] = [64, 120, 12, 260];

/** A line a design: the lower, the sooner it sees. */
function Curves({ answer: { designs } }: { answer: RuleSetsAnswer }) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const { ink } = useTheme();
  const bottom = TOP + HEIGHT;
  const all = designs.flatMap(({ sees }) => sees.map(({ minutes }) => minutes));
  const right = width - Math.min(RIGHT, width / 4);
  const x = scaleLinear([0.5, 3], [LEFT + 10, right - 8]);
  const y = scaleLog([Math.max(1, Math.min(...all) * 0.8), Math.max(...all) * 1.2], [bottom, TOP]);
  const [lowest, highest] = y.domain() as [number, number];
  const ticks = [1, 5, 15, 30, 60, 240, 480, 1440, 4320, 10080, 43200].filter((t) => t >= lowest && t <= highest);
  return (
    <Box ref={box} sx={{ minHeight: bottom + 30, mt: 1 }}>
      {width > 0 && (
        <svg width={width} height={bottom + 30} role="img" aria-label={RULES_WEIGHED.drawing}>
          {ticks.map((tick) => (
            <g key={tick}>
              <path d={`M${LEFT},${y(tick)}H${right}`} stroke={ink.faint} />
              <text x={LEFT - 8} y={y(tick) + 4} textAnchor="end" fontSize={12} fill={ink.line}>
                {duration(tick)}
              </text>
            </g>
          ))}
          {designs.map(({ name, sees }, i) => {
            const xs = sees.map(({ shift }) => shift);
            const ys = sees.map(({ minutes }) => Math.max(1, minutes));
            const places = xs.map((shift, j) => [x(shift), y(ys[j] ?? 1)] as const);
            const end = places[places.length - 1];
            return (
              <g key={name}>
                <path
                  d={through(xs, ys, x, y)}
                  fill="none"
                  stroke={ink.data}
                  strokeWidth={2}
                  strokeDasharray={DASHES[i]}
                />
                <path d={shapes(i, places, 4)} fill={ink.data} />
                {end && (
                  <text x={end[0] + 10} y={end[1] + 4 + 15 * crowd(designs, i)} fontSize={13} fill={ink.data}>
                    {name}
                  </text>
                )}
              </g>
            );
          })}
          <ValueAxis x={x} y={bottom} colour={ink.line} rule={ink.line} label={(value) => `${value} σ`} />
        </svg>
      )}
    </Box>
  );
}

/** Names of lines that end at nearly the same height stand under one another. */
function crowd(designs: RuleSetsAnswer['designs'], at: number): number {
  const end = (i: number) => Math.log(designs[i]?.sees.slice(-1)[0]?.minutes ?? 1);
  return designs.slice(0, at).filter((_, i) => Math.abs(end(i) - end(at)) < 0.25).length;
}
