import { Box, Typography } from '@mui/material';
import type { AnalyteJudgement, Outcome } from '../../api/client';
import { findingsInWords, OUTCOME_MARKS, OUTCOMES, OUTCOMES_IN_SHORT } from '../../words/lab';

/** What came of a run, in its word, with a shape beside the colour. */
export function OutcomeMark({ outcome, short = false }: { outcome: Outcome; short?: boolean }) {
  return (
    <Box
      component="span"
      sx={({ palette }) => ({
        fontWeight: 650,
        color: {
          accepted: palette.settled,
          warning: palette.warning.main,
          incomplete: palette.warning.main,
          rejected: palette.error.main,
        }[outcome],
      })}
    >
      <span aria-hidden>{OUTCOME_MARKS[outcome]}&nbsp;</span>
      {(short ? OUTCOMES_IN_SHORT : OUTCOMES)[outcome]}
    </Box>
  );
}

/** What came of one analyte, and which rules it broke. */
export function Findings({ judged }: { judged: AnalyteJudgement }) {
  return (
    <>
      <OutcomeMark outcome={judged.outcome} short />
      {findingsInWords(judged).map((sentence) => (
        <Typography key={sentence} variant="body2">
          {sentence}
        </Typography>
      ))}
    </>
  );
}
