import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { useState } from 'react';
import type { Behind, CapabilityAnswer, CapabilityQuestion } from '../../api/client';
import { Pick } from '../../ui/Pick';
import { CAPABILITY, isGrave, STANDING_MARKS, STANDINGS, standingSays, verdictInWords } from '../../words/capability';
import { figure } from '../../words/numbers';
import { STUDIES } from '../../words/studies';
import { BarsTable } from './BarsTable';
import { Doubts } from './Doubts';
import { Families } from './Families';
import { FitDrawing } from './FitDrawing';
import { Groups } from './Groups';
import { IndexTable } from './IndexTable';
import { SpecDrawing } from './SpecDrawing';
import { useBehind } from './useBehind';

/** The answer: a verdict with its doubts beside it, the values against the specification, the figures, the fit. */
export function CapabilityStudy({ question, answer }: { question: CapabilityQuestion; answer: CapabilityAnswer }) {
  const [percent, setPercent] = useState(false);
  const [table, setTable] = useState(false);
  const { verdict, about, specification, histogram } = answer;
  const [open, panel] = useBehind(about.decimals);
  const show = (what: string, narrowed: Omit<Behind, 'of'>) => open(what, question.of, narrowed);
  const grave = answer.doubts.some(isGrave);
  const edge = (value: number) => figure(value, about.decimals + 1);
  const bar = (from: number, to: number, last: boolean) =>
    show(`${edge(from)} – ${edge(to)}`, { from, ...(last ? { up_to: to } : { below: to }) });
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
        <Paper sx={{ p: 2, display: 'grid', gap: 3, gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' } }}>
          <Box component="section" aria-label={verdict ? STANDINGS[verdict.standing] : STUDIES.theAnswer}>
            {verdict && (
              <Typography
                variant="h1"
                component="p"
                sx={(theme) => ({
                  color: {
                    able: grave ? theme.palette.warning.main : theme.palette.settled,
                    barely: theme.palette.warning.main,
                    not_able: theme.palette.error.main,
                  }[verdict.standing],
                })}
              >
                <span aria-hidden>
                  {grave && verdict.standing === 'able' ? STANDING_MARKS.barely : STANDING_MARKS[verdict.standing]}{' '}
                </span>
                {standingSays(verdict.standing, grave)}
              </Typography>
            )}
            {verdictInWords(answer).map((sentence) => (
              <Typography key={sentence} sx={{ mt: 0.75 }}>
                {sentence}
              </Typography>
            ))}
          </Box>
          <Doubts doubts={answer.doubts} />
        </Paper>
        <Paper component="section" aria-label={CAPABILITY.against} sx={{ p: 2 }}>
          <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'center', mb: 1 }}>
            <Typography variant="h2" sx={{ flex: 1, minWidth: 220 }}>
              {CAPABILITY.against}
            </Typography>
            <Box sx={{ displayPrint: 'none', display: 'flex', gap: 1, flexWrap: 'wrap' }}>
              <Pick
                label={CAPABILITY.scale}
                value={percent ? 'percent' : 'count'}
                onPick={(value) => setPercent(value === 'percent')}
                options={[
                  ['count', CAPABILITY.count],
                  ['percent', CAPABILITY.percent],
                ]}
              />
              <Button color="inherit" aria-pressed={table} onClick={() => setTable(!table)}>
                {STUDIES.asTable}
              </Button>
            </Box>
          </Stack>
          <SpecDrawing answer={answer} percent={percent} onBar={bar} />
          <Legend answer={answer} />
          <Typography color="text.secondary" sx={{ mt: 0.5 }}>
            {CAPABILITY.says(answer, about.decimals, about.unit)}
          </Typography>
          {table && (
            <BarsTable
              histogram={histogram}
              shares={answer.shares}
              decimals={about.decimals}
              label={CAPABILITY.against}
            />
          )}
        </Paper>
        {panel}
        {question.split && answer.groups.length > 0 && (
          <Paper sx={{ p: 2 }}>
            <Groups
              answer={answer}
              split={question.split}
              onGroup={(group) => show(group, { group, split: question.split ?? null })}
            />
          </Paper>
        )}
        <Paper component="section" aria-label={CAPABILITY.fit} sx={{ p: 2 }}>
          <Typography variant="h2" sx={{ mb: 1 }}>
            {CAPABILITY.fit}
          </Typography>
          <Box
            sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) auto' } }}
          >
            <Box sx={{ minWidth: 0 }}>
              <FitDrawing plot={answer.plot} fitted={answer.fitted} inside={answer.inside} decimals={about.decimals} />
              <Typography color="text.secondary">{CAPABILITY.plotSays(answer.plot.family, answer.inside)}</Typography>
            </Box>
            <Families answer={answer} />
          </Box>
        </Paper>
      </Stack>
      <Paper component="section" aria-label={CAPABILITY.figures} sx={{ p: 2, overflowX: 'auto' }}>
        <IndexTable
          answer={answer}
          onOutside={(side) =>
            side === 'below'
              ? show(CAPABILITY.rows.below, { below: specification.lsl ?? null })
              : show(CAPABILITY.rows.above, { above: specification.usl ?? null })
          }
        />
      </Paper>
    </Box>
  );
}

/** Which line is which. */
function Legend({ answer: { curves, capability } }: { answer: CapabilityAnswer }) {
  return (
    <Stack direction="row" component="ul" sx={{ gap: 2.5, m: 0, mt: 0.5, p: 0, listStyle: 'none', flexWrap: 'wrap' }}>
      {curves.map(({ of }) => (
        <Stack key={of} component="li" direction="row" sx={{ gap: 1, alignItems: 'center' }}>
          <svg width={34} height={10} aria-hidden>
            <path
              d="M0,5H34"
              stroke="currentColor"
              strokeWidth={2}
              strokeDasharray={of === 'within' ? '6 4' : undefined}
            />
          </svg>
          <Typography variant="body2">
            {of === 'within' ? CAPABILITY.within : CAPABILITY.overall(capability.distribution.family)}
          </Typography>
        </Stack>
      ))}
    </Stack>
  );
}
