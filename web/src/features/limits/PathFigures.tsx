import { Box, Paper, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import type { LimitsPath, LimitsView, PathLimits, Statistic } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { LIMITS, unfitInWords } from '../../words/limits';
import { figure } from '../../words/numbers';
import { panelFigure } from '../../words/signals';

const LINES = ['upper', 'center', 'lower'] as const;

/** Trial, revised and frozen limits side by side, in figures. */
export function PathFigures({ view, path }: { view: LimitsView; path: LimitsPath }) {
  const { decimals, chart, kind } = view.characteristic;
  const phase = view.phases.find((p) => p.id === path.phase);
  const columns = [
    [LIMITS.columns.trial, path.trial],
    [LIMITS.columns.revised, path.revised],
    ...(path.in_force == null ? [] : [[LIMITS.columns.inForce, path.in_force] as const]),
  ] as const;
  const panels = (path.revised ?? path.trial ?? path.in_force)?.lines.map((line) => line.panel) ?? [];
  const location: Statistic = chart === 'np' ? 'proportion' : (panels[0] ?? 'mean');
  const rows: [string, (limits: PathLimits) => string][] = [
    // A fit says its centre itself.
    ...(chart === 't'
      ? []
      : ([[LIMITS.rows.centre, ({ figures }) => panelFigure(location, figures.center, decimals)]] as [
          string,
          (l: PathLimits) => string,
        ][])),
    ...(kind === 'measured'
      ? [
          [LIMITS.rows.sigma, ({ figures }: PathLimits) => figure(figures.sigma, decimals + 2)] as [
            string,
            (l: PathLimits) => string,
          ],
        ]
      : []),
    ...(chart === 't'
      ? ([
          [LIMITS.rows.shape, ({ figures }) => figure(figures.shape, 3)],
          [LIMITS.rows.scale, ({ figures }) => figure(figures.scale, 2)],
        ] as [string, (l: PathLimits) => string][])
      : []),
    ...(chart === 'between_within'
      ? [
          [LIMITS.rows.between, ({ figures }: PathLimits) => figure(figures.sigma_between, decimals + 2)] as [
            string,
            (l: PathLimits) => string,
          ],
        ]
      : []),
    ...panels.flatMap((panel) =>
      LINES.map((name): [string, (limits: PathLimits) => string] => [
        LIMITS.line(panel, name),
        ({ lines }) => panelFigure(panel, lines.find((line) => line.panel === panel)?.[name], decimals),
      ]),
    ),
    [LIMITS.rows.used, ({ baseline }) => (baseline == null ? '–' : String(baseline.points))],
    [LIMITS.rows.out, ({ out, of }) => LIMITS.out(out, of)],
  ];
  return (
    <Paper component="section" aria-label={LIMITS.figures} sx={{ p: 2, overflowX: 'auto' }}>
      <Table size="small" sx={{ '& td, & th': { fontVariantNumeric: 'tabular-nums' } }}>
        <TableHead>
          <TableRow>
            <TableCell>{LIMITS.figures}</TableCell>
            {columns.map(([name]) => (
              <TableCell key={name} align="right">
                {name}
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map(([name, say]) => (
            <TableRow key={name}>
              <TableCell component="th" scope="row" sx={{ color: 'text.secondary' }}>
                {name}
              </TableCell>
              {columns.map(([column, limits]) => (
                <TableCell key={column} align="right">
                  {limits == null ? '–' : say(limits)}
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {path.revised == null && <Typography sx={{ mt: 1 }}>{LIMITS.tooFew}</Typography>}
      {phase !== undefined && phase.aside_since > 0 && (
        <Notice kind="caution">{LIMITS.asideSince(phase.aside_since)}</Notice>
      )}
      {path.unfit.length > 0 && (
        <Box sx={{ mt: 1.5, display: 'grid', gap: 1 }}>
          {path.unfit.map((unfit) => (
            <Notice key={unfit.code} kind="caution">
              {unfitInWords(unfit)}
            </Notice>
          ))}
        </Box>
      )}
    </Paper>
  );
}
