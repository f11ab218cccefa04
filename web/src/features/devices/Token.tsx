import { Typography } from '@mui/material';
import { ShownOnce } from '../../ui/ShownOnce';
import { DEVICE } from '../../words/devices';

/** The token, this once. */
export function Token({ name, token, onDone }: { name: string; token: string; onDone: () => void }) {
  return (
    <ShownOnce
      title={DEVICE.tokenOf(name)}
      label={DEVICE.token}
      about={DEVICE.shownOnce}
      secret={token}
      done={DEVICE.copied}
      onDone={onDone}
    >
      <Typography color="text.secondary" sx={{ mb: 2 }}>
        {DEVICE.tokenUse} <code>POST /api/ingest</code>, <code>Authorization: Bearer …</code>
      </Typography>
    </ShownOnce>
  );
}
