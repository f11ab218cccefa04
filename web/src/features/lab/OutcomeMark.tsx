import { Box } from '@mui/material';
import type { Outcome } from '../../api/client';
import { OUTCOME_MARKS, OUTCOMES, OUTCOMES_IN_SHORT } from '../../words/lab';

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
