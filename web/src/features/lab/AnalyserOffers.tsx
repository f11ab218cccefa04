import { Button, Stack } from '@mui/material';
import type { Offer } from '../../api/client';
import { inWords } from '../../words/numbers';
import { when } from '../../words/time';
import { Notice } from '../../ui/Notice';

/** Results of an analyser that wait to be looked at and confirmed. */
export function AnalyserOffers({ offers, onTake }: { offers: readonly Offer[]; onTake: (offers: readonly Offer[]) => void }) {
  const devices = [...new Set(offers.map((o) => o.device))];
  return (
    <Stack spacing={0.5}>
      {devices.map((device) => {
        const mine = offers.filter((o) => o.device === device);
        const newest = mine.map((o) => o.measured_at).sort().at(-1) ?? '';
        return (
          <Notice key={device} kind="caution">
            {device} has sent {inWords(mine.length)} {mine.length === 1 ? 'result' : 'results'}, the newest of {when(newest)}.{' '}
            <Button variant="outlined" color="inherit" size="small" onClick={() => onTake(mine)}>Take {mine.length === 1 ? 'it' : 'them'} over</Button>
          </Notice>
        );
      })}
    </Stack>
  );
}
