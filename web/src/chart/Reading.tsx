import { Box, Paper } from '@mui/material';
import { visuallyHidden } from '@mui/utils';

const WIDTH = 268;

interface BesideProps {
  lines: readonly string[];
  x: number;
  width: number;
  top: number;
}

/** What is read of a point, beside it; where the point is near the right edge, to its left. */
function Beside({ lines, x, width, top }: BesideProps) {
  const [first, ...rest] = lines;
  const toRight = x + 18 + WIDTH <= width;
  return (
    <Paper
      aria-hidden
      data-testid="reading"
      sx={{
        position: 'absolute',
        top: top + 22,
        left: toRight ? x + 18 : Math.max(0, x - 18 - WIDTH),
        width: WIDTH,
        p: 1,
        pointerEvents: 'none',
        fontSize: '0.875rem',
        lineHeight: 1.4,
        zIndex: 1,
      }}
    >
      <Box sx={{ fontWeight: 600 }}>{first}</Box>
      {rest.map((line) => (
        <Box key={line}>{line}</Box>
      ))}
    </Paper>
  );
}

/** What is read of the chosen point, said aloud. */
function Said({ lines }: { lines: readonly string[] }) {
  return (
    <Box component="span" role="status" sx={visuallyHidden}>
      {lines.join('. ')}
    </Box>
  );
}

export const Reading = { Beside, Said };
