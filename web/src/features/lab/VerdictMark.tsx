import { Box } from '@mui/material';
import type { Verdict } from '../../api/client';
import { INCOMPLETE, VERDICT_MARKS, VERDICTS } from '../../words/lab';

/** A verdict in its word, with a shape beside the colour. */
export function VerdictMark({ verdict, short = false, incomplete = false }: { verdict: Verdict; short?: boolean; incomplete?: boolean }) {
  if (incomplete && verdict !== 'rejected') {
    return <Box component="span" sx={{ fontWeight: 650, color: 'warning.main' }}><span aria-hidden>◇&nbsp;</span>{INCOMPLETE}</Box>;
  }
  return (
    <Box
      component="span"
      sx={(theme) => ({
        fontWeight: 650,
        color: { accepted: theme.palette.settled, warning: theme.palette.warning.main, rejected: theme.palette.error.main }[verdict],
      })}
    >
      <span aria-hidden>{VERDICT_MARKS[verdict]}&nbsp;</span>
      {short && verdict === 'warning' ? 'Warning' : VERDICTS[verdict]}
    </Box>
  );
}
