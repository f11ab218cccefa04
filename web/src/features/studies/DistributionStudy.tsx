import { Box, Button, Paper, Stack, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useState } from 'react';
import type { DistributionAnswer, Family, Question } from '../../api/client';
import { DISTRIBUTION, reasonInWords } from '../../words/distribution';
import { figure, grouped } from '../../words/numbers';
import { CAPABILITY } from '../../words/capability';
import { familyName, STUDIES } from '../../words/studies';
import { BarsTable } from './BarsTable';
import { FitDrawing } from './FitDrawing';
import { RainDrawing } from './RainDrawing';
import { useBehind } from './useBehind';

type Asked = Extract<Question, { sort: 'distribution' }>;

/** Which family was taken and why; the values in order as they fell into the bars; the families; the fit. */
export function DistributionStudy({ question, answer }: { question: Asked; answer: DistributionAnswer }) {
  const { about, taken, fits, quantiles, left_out: leftOut, histogram } = answer;
  const [beside, setBeside] = useState<Family | null>(null);
  const [table, setTable] = useState(false);
  const [show, panel] = useBehind(about.decimals);
  const d = about.decimals;
  const edge = (value: number) => figure(value, d + 1);
  const bar = (from: number, to: number, last: boolean) =>
    show(`${edge(from)} – ${edge(to)}`, question.of, { from, ...(last ? { up_to: to } : { below: to }) });
  return (
    <Box
      sx={{
        display: 'grid',
        gap: 2,
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 400px' },
        alignItems: 'start',
      }}
    >
      <Stack spacing={2} sx={{ minWidth: 0 }}>
        <Paper component="section" aria-label={DISTRIBUTION.taken} sx={{ p: 2 }}>
          <Typography variant="h1" component="p">
            {DISTRIBUTION.isTaken(taken)}
          </Typography>
          {reasonInWords(answer).map((sentence) => (
            <Typography key={sentence} sx={{ mt: 0.75 }}>
              {sentence}
            </Typography>
          ))}
        </Paper>
        <Paper component="section" aria-label={DISTRIBUTION.drawing} sx={{ p: 2 }}>
          <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'baseline', mb: 1 }}>
            <Typography variant="h2" sx={{ flex: 1, minWidth: 220 }}>
              {DISTRIBUTION.drawing}
            </Typography>
            <Button color="inherit" aria-pressed={table} onClick={() => setTable(!table)} sx={{ displayPrint: 'none' }}>
              {STUDIES.asTable}
            </Button>
          </Stack>
          <RainDrawing answer={answer} beside={beside} onBar={bar} />
          <Typography color="text.secondary" sx={{ mt: 0.5 }}>
            {DISTRIBUTION.says(answer)}
          </Typography>
          {table && (
            <BarsTable histogram={histogram} shares={answer.shares} decimals={d} label={DISTRIBUTION.drawing} />
          )}
        </Paper>
        {panel}
        <Paper component="section" aria-label={CAPABILITY.fit} sx={{ p: 2 }}>
          <Typography variant="h2" sx={{ mb: 1 }}>
            {CAPABILITY.fit}
          </Typography>
          <FitDrawing plot={answer.plot} fitted={answer.fitted} inside={answer.inside} decimals={d} />
          <Typography color="text.secondary">{CAPABILITY.plotSays(answer.plot.family, answer.inside)}</Typography>
        </Paper>
      </Stack>
      <Stack spacing={2} sx={{ minWidth: 0 }}>
        <Paper component="section" aria-label={CAPABILITY.families} sx={{ p: 2, overflowX: 'auto' }}>
          <Typography variant="h2" sx={{ mb: 1 }}>
            {CAPABILITY.families}
          </Typography>
          <Table size="small">
            <TableHead>
              <TableRow>
                <TableCell>{CAPABILITY.family}</TableCell>
                <TableCell align="right">{CAPABILITY.aic}</TableCell>
                <TableCell align="right">{CAPABILITY.a2}</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {fits.map((fit) => (
                <TableRow key={fit.family} selected={fit.family === taken.family}>
                  {fit.family === taken.family ? (
                    <TableCell component="th" scope="row">
                      {familyName(fit.family)} ({CAPABILITY.chosen})
                    </TableCell>
                  ) : (
                    <TableCell component="th" scope="row" padding="none">
                      <Button
                        size="small"
                        aria-pressed={beside === fit.family}
                        onClick={() => setBeside(beside === fit.family ? null : fit.family)}
                      >
                        {familyName(fit.family)}
                      </Button>
                    </TableCell>
                  )}
                  <TableCell align="right">{figure(fit.aic, 1)}</TableCell>
                  <TableCell align="right">{figure(fit.a2, 2)}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
          <Typography color="text.secondary" variant="body2" sx={{ mt: 1 }}>
            {DISTRIBUTION.drawBeside}
          </Typography>
        </Paper>
        <Paper component="section" aria-label={DISTRIBUTION.figures} sx={{ p: 2 }}>
          <Typography variant="h2" sx={{ mb: 1 }}>
            {DISTRIBUTION.figures}
          </Typography>
          <Table size="small">
            <TableBody>
              {(
                [
                  [DISTRIBUTION.n, grouped(answer.n)],
                  ...(leftOut[0] + leftOut[1] > 0
                    ? ([[DISTRIBUTION.leftOut, `${leftOut[0]} + ${leftOut[1]}`]] as const)
                    : []),
                  [CAPABILITY.mean, figure(answer.mean, d + 1)],
                  [CAPABILITY.sd, figure(answer.sd, d + 2)],
                  ...DISTRIBUTION.ends.map((name, i) => [name, figure(answer.ends[i], d)] as const),
                  [DISTRIBUTION.normal, figure(answer.normality.p, 4)],
                  ...(answer.a2 == null ? [] : ([[DISTRIBUTION.a2, figure(answer.a2, 2)]] as const)),
                ] as const
              ).map(([name, value]) => (
                <TableRow key={name}>
                  <TableCell component="th" scope="row">
                    {name}
                  </TableCell>
                  <TableCell align="right">{value}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Paper>
        <Paper component="section" aria-label={DISTRIBUTION.quantiles} sx={{ p: 2 }}>
          <Typography variant="h2" sx={{ mb: 1 }}>
            {DISTRIBUTION.quantiles}
          </Typography>
          <Table size="small">
            <TableHead>
              <TableRow>
                <TableCell align="right">{DISTRIBUTION.below}</TableCell>
                <TableCell align="right">{DISTRIBUTION.value}</TableCell>
                <TableCell align="right">{DISTRIBUTION.seen}</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {quantiles.map(({ share, fitted, seen }) => (
                <TableRow key={share}>
                  <TableCell align="right">{DISTRIBUTION.share(share)}</TableCell>
                  <TableCell align="right" padding="none">
                    <Button
                      size="small"
                      onClick={() =>
                        show(DISTRIBUTION.belowThat(figure(fitted, d + 1)), question.of, { below: fitted })
                      }
                    >
                      {figure(fitted, d + 1)}
                    </Button>
                  </TableCell>
                  <TableCell align="right">{DISTRIBUTION.share(seen)}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Paper>
      </Stack>
    </Box>
  );
}
