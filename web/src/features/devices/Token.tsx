import { Typography } from '@mui/material';
import type { Link } from '../../api/client';
import { ShownOnce } from '../../ui/ShownOnce';
import { DEVICE, doesWhat } from '../../words/devices';

interface Props {
  name: string;
  kind: Link['kind'];
  token: string;
  onDone: () => void;
}

/** The token, this once; of a display as the link that it opens. */
export function Token({ name, kind, token, onDone }: Props) {
  if (kind === 'display') {
    return (
      <ShownOnce
        title={DEVICE.wallOf(name)}
        label={DEVICE.wallLink}
        about={doesWhat(kind).shownOnce}
        secret={`${window.location.origin}/wall#${token}`}
        done={DEVICE.copied}
        onDone={onDone}
      >
        <Typography color="text.secondary" sx={{ mb: 2 }}>
          {DEVICE.wallUse}
        </Typography>
      </ShownOnce>
    );
  }
  const [use, address] = kind === 'program' ? DEVICE.tokenUse.program : DEVICE.tokenUse.ingest;
  return (
    <ShownOnce
      title={DEVICE.tokenOf(name)}
      label={DEVICE.token}
      about={doesWhat(kind).shownOnce}
      secret={token}
      done={DEVICE.copied}
      onDone={onDone}
    >
      <Typography color="text.secondary" sx={{ mb: 2 }}>
        {use} <code>{address}</code>, <code>Authorization: Bearer …</code>
      </Typography>
    </ShownOnce>
  );
}
