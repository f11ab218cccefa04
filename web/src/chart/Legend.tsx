import { Stack } from '@mui/material';
import { isHollow, shapes } from '../plot/shapes';

/** Which mark is whose. */
export function Legend({ values }: { values: readonly string[] }) {
  return (
    <Stack component="ul" direction="row" sx={{ gap: 2, flexWrap: 'wrap', m: 0, mb: 0.5, p: 0, listStyle: 'none' }}>
      {values.map((value, mark) => (
        <Stack key={value} component="li" direction="row" sx={{ gap: 0.75, alignItems: 'center' }}>
          <svg width={16} height={16} aria-hidden>
            <path
              d={shapes(mark, [[8, 8]], 5)}
              fill={isHollow(mark) ? 'none' : 'currentColor'}
              stroke="currentColor"
              strokeWidth={1.3}
            />
          </svg>
          {value}
        </Stack>
      ))}
    </Stack>
  );
}
