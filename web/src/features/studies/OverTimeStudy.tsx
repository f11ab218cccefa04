import {
  Box,
  Button,
  Link,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import type { OverTimeAnswer, Question } from '../../api/client';
import { useMay } from '../../session/session';
import { capital, figure } from '../../words/numbers';
import { measureInWords, OVER_TIME, overTimeInWords } from '../../words/overTime';
import { STUDIES } from '../../words/studies';
import { PeriodsDrawing } from './PeriodsDrawing';
import { useBehind } from './useBehind';

type Asked = Extract<Question, { sort: 'over_time' }>;
type Period = OverTimeAnswer['periods'][number];

/** A point a period, with limits; each opens the samples behind it. */
export function OverTimeStudy({ question, answer }: { question: Asked; answer: OverTimeAnswer }) {
  const { about, periods } = answer;
  const whole = question.summary === 'number' || (question.summary === 'sum' && question.measure.column !== 'value');
  const decimals = whole ? 0 : question.measure.column === 'rate' ? 4 : about.decimals + 1;
  const [table, setTable] = useState(false);
  const [show, panel] = useBehind(about.decimals);
  const maySetUp = useMay('set_up');
  const open = ({ name, began, ends }: Period) => {
    const { of } = question;
    const since = of.since != null && of.since > began ? of.since : began;
    const until = of.until != null && of.until < ends ? of.until : ends;
    show(name, { ...of, since, until }, {});
  };
  const title = `${capital(measureInWords(question))}: ${about.name}`;
  return (
    <Stack spacing={2} sx={{ minWidth: 0 }}>
      <Paper component="section" aria-label={title} sx={{ p: 2 }}>
        <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'baseline', mb: 1 }}>
          <Typography variant="h2" sx={{ flex: 1, minWidth: 220 }}>
            {title}
          </Typography>
          <Button color="inherit" aria-pressed={table} onClick={() => setTable(!table)} sx={{ displayPrint: 'none' }}>
            {STUDIES.asTable}
          </Button>
        </Stack>
        {overTimeInWords(answer, question, decimals).map((sentence) => (
          <Typography key={sentence} sx={{ mb: 0.5 }}>
            {sentence}
          </Typography>
        ))}
        <PeriodsDrawing answer={answer} decimals={decimals} label={title} onPeriod={open} />
        {table && (
          <Box sx={{ maxHeight: 360, overflow: 'auto', mt: 1 }} tabIndex={0} role="group" aria-label={title}>
            <Table size="small" sx={{ width: 'auto' }}>
              <TableHead>
                <TableRow>
                  <TableCell>{OVER_TIME.period}</TableCell>
                  <TableCell align="right">{OVER_TIME.value}</TableCell>
                  <TableCell align="right">{OVER_TIME.samples}</TableCell>
                  <TableCell align="right">{OVER_TIME.values}</TableCell>
                  <TableCell>{OVER_TIME.remark}</TableCell>
                </TableRow>
              </TableHead>
              <TableBody>
                {periods.map((period) => (
                  <TableRow key={period.began}>
                    <TableCell component="th" scope="row">
                      {period.name}
                    </TableCell>
                    <TableCell align="right">{figure(period.value, decimals)}</TableCell>
                    <TableCell align="right">{period.samples}</TableCell>
                    <TableCell align="right">{period.values}</TableCell>
                    <TableCell>
                      {period.beyond && OVER_TIME.beyond[period.beyond]}
                      {period.running && OVER_TIME.running}
                    </TableCell>
                  </TableRow>
                ))}
              </TableBody>
            </Table>
          </Box>
        )}
        {maySetUp && (
          <Typography sx={{ mt: 1, displayPrint: 'none' }} color="text.secondary">
            {OVER_TIME.makeItHint}{' '}
            <Link component={RouterLink} to={makeIt(question, answer)}>
              {OVER_TIME.makeIt}
            </Link>
          </Typography>
        )}
      </Paper>
      {panel}
    </Stack>
  );
}

/** The set-up of a new characteristic with what is known already. */
function makeIt(question: Asked, { about }: OverTimeAnswer): string {
  const params = new URLSearchParams({
    name: `${about.name}, ${measureInWords(question)}`.slice(0, 80),
    unit: question.measure.column === 'value' || question.measure.column === 'range' ? about.unit : '',
    decimals: String(about.decimals),
  });
  return `/plan/characteristics/new?${params.toString()}`;
}
