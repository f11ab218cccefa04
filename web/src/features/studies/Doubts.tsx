import { Box, Typography } from '@mui/material';
import type { CapabilityDoubt } from '../../api/client';
import { CAPABILITY, doubtInWords, isGrave } from '../../words/capability';

/** What the figures must be read with; it cannot be folded away. */
export function Doubts({ doubts }: { doubts: readonly CapabilityDoubt[] }) {
  return (
    <Box component="section" aria-label={CAPABILITY.doubts}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {CAPABILITY.doubts}
      </Typography>
      {doubts.length === 0 ? (
        <Typography>
          <Box component="span" aria-hidden sx={(theme) => ({ color: theme.palette.settled, mr: 1 })}>
            ✓
          </Box>
          {CAPABILITY.noDoubts}
        </Typography>
      ) : (
        <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 1 }}>
          {doubts.map((doubt) => {
            const { name, says } = doubtInWords(doubt);
            const grave = isGrave(doubt);
            return (
              <Box key={doubt.doubt} component="li" sx={{ display: 'flex', gap: 1.25 }}>
                <Box component="span" aria-hidden sx={{ color: grave ? 'error.main' : 'warning.main' }}>
                  {grave ? '▲' : '◆'}
                </Box>
                <Typography>
                  <strong>{name}.</strong> {says}
                </Typography>
              </Box>
            );
          })}
        </Box>
      )}
    </Box>
  );
}
