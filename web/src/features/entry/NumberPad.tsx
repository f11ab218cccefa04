import { Box, Button, Typography } from '@mui/material';
import { PAD } from '../../words/entry';

const DIGITS = ['7', '8', '9', '4', '5', '6', '1', '2', '3'] as const;

/** Digits for fingers and gloves: the field keeps the focus, and no other keyboard covers the chart. */
export function NumberPad({
  says,
  decimals,
  last,
  onType,
  onErase,
  onNext,
  onSave,
}: {
  /** What is typed: piece, unit, the value of last time. */
  says: string;
  decimals: number;
  /** The last field: what comes next is saving. */
  last: boolean;
  onType: (sign: string) => void;
  onErase: () => void;
  onNext: () => void;
  /** Saves from wherever one is; without it only the last field does. */
  onSave?: () => void;
}) {
  const key = (label: string, act: () => void, name?: string) => (
    <Button
      key={label}
      variant="outlined"
      color="inherit"
      aria-label={name}
      onPointerDown={(event) => event.preventDefault()}
      onClick={act}
      sx={{ minHeight: 56, minWidth: 0, fontSize: '1.4rem', fontWeight: 600 }}
    >
      {label}
    </Button>
  );
  return (
    <Box role="group" aria-label={PAD.title} sx={{ touchAction: 'manipulation', userSelect: 'none' }}>
      <Typography color="text.secondary" sx={{ mb: 0.5 }}>
        {says}
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 0.75 }}>
        <Box sx={{ gridColumn: 'span 3', display: 'grid', gridTemplateColumns: 'repeat(3, 1fr)', gap: 0.75 }}>
          {DIGITS.map((digit) => key(digit, () => onType(digit)))}
          {key('−', () => onType('-'), PAD.minus)}
          {key('0', () => onType('0'))}
          {decimals > 0 ? key('.', () => onType('.'), PAD.point) : <span />}
        </Box>
        <Box sx={{ display: 'grid', gridTemplateRows: onSave ? '1fr 1fr 2fr' : '1fr 3fr', gap: 0.75 }}>
          {key('⌫', onErase, PAD.erase)}
          {(onSave === undefined || !last) && (
            <Button
              variant={onSave ? 'outlined' : 'contained'}
              onPointerDown={(event) => event.preventDefault()}
              onClick={onNext}
              sx={{ minWidth: 0, fontSize: '1.1rem' }}
            >
              {PAD.next}
            </Button>
          )}
          {onSave && (
            <Button
              variant="contained"
              onPointerDown={(event) => event.preventDefault()}
              onClick={onSave}
              sx={{ minWidth: 0, fontSize: '1.1rem', ...(last && { gridRow: 'span 2' }) }}
            >
              {PAD.save}
            </Button>
          )}
        </Box>
      </Box>
    </Box>
  );
}
