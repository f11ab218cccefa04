import { Box, Typography } from '@mui/material';
import { SIGNAL } from '../../words/signalPages';

/** The steps to take. */
export function ReactionPlan({ steps }: { steps: readonly string[] }) {
  if (steps.length === 0) return null;
  return (
    <Box sx={{ my: 1.5 }}>
      <Typography variant="h3">{SIGNAL.reactionPlan}</Typography>
      <Box component="ol" sx={{ m: 0, pl: 2.5 }}>
        {steps.map((step) => (
          <li key={step}>{step}</li>
        ))}
      </Box>
    </Box>
  );
}
