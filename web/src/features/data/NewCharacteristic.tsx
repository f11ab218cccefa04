import { Link, Stack } from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { ImportFileView, ShapePreview } from '../../api/client';
import { useMay } from '../../session/session';
import { INTO } from '../../words/data';

/** What a table proposes for a new characteristic, as the page that sets it up reads it. */
function proposed(file: ImportFileView, { suits }: ShapePreview, looking: boolean): string {
  const params = new URLSearchParams({
    name: file.name.replace(/\.[^.]*$/, '').slice(0, 80),
    kind: suits.kind,
    pieces: String(suits.pieces),
    same: suits.varying ? 'no' : 'yes',
    decimals: String(suits.decimals),
    ...(looking && { looking: 'yes' }),
    back: `/data/files/${file.id}`,
  });
  // What of a shift the calendar says is not asked.
  for (const { name } of suits.tags) if (name !== 'shift') params.append('tag', name);
  for (const kind of suits.kinds) params.append('counted', kind);
  return `/plan/characteristics/new?${params.toString()}`;
}

/** Ways to a characteristic that is made for the table. */
export function NewCharacteristic({ file, seen }: { file: ImportFileView; seen: ShapePreview }) {
  const may = useMay('set_up');
  if (!may) return null;
  const link = { minHeight: 48, display: 'inline-flex', alignItems: 'center' };
  return (
    <Stack direction="row" sx={{ columnGap: 3, flexWrap: 'wrap' }}>
      <Link component={RouterLink} to={proposed(file, seen, false)} sx={link}>
        {INTO.newOne}
      </Link>
      <Link component={RouterLink} to={proposed(file, seen, true)} sx={link}>
        {INTO.newForLooking}
      </Link>
    </Stack>
  );
}
