import { Button, Stack } from '@mui/material';
import type { Offer } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { RUN_ENTRY } from '../../words/run';

/** Results of an analyser that wait to be looked at and confirmed. */
export function AnalyserOffers({
  offers,
  onTake,
}: {
  offers: readonly Offer[];
  onTake: (offers: readonly Offer[]) => void;
}) {
  const devices = [...new Set(offers.map((o) => o.device))];
  return (
    <Stack spacing={0.5}>
      {devices.map((device) => {
        const mine = offers.filter((o) => o.device === device);
        const newest =
          mine
            .map((o) => o.measured_at)
            .sort()
            .at(-1) ?? '';
        return (
          <Notice key={device} kind="caution">
            {RUN_ENTRY.offered(device, mine.length, newest)}{' '}
            <Button variant="outlined" color="inherit" size="small" onClick={() => onTake(mine)}>
              {RUN_ENTRY.takeOver(mine.length)}
            </Button>
          </Notice>
        );
      })}
    </Stack>
  );
}
