import { Paper, Stack, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import type { Kind } from '../../api/client';
import { CharacteristicPick } from '../../ui/CharacteristicPick';
import type { Address } from '../../ui/useAddress';
import { ASK } from '../../words/studies';
import { ofAnother } from './address';

/** The question as a sentence, with what narrows it below. */
export function AskFrame({
  label = ASK.question,
  sentence,
  children,
}: {
  /** What it is a question of, where several stand on a page. */
  label?: string;
  sentence: ReactNode;
  children: ReactNode;
}) {
  return (
    <Paper component="section" aria-label={label} sx={{ p: 2, mb: 2, displayPrint: 'none' }}>
      <Stack direction="row" sx={{ gap: 1.25, flexWrap: 'wrap', alignItems: 'center' }}>
        {sentence}
      </Stack>
      <Stack direction="row" sx={{ gap: 1.25, flexWrap: 'wrap', mt: 1.5, alignItems: 'flex-start' }}>
        {children}
      </Stack>
    </Paper>
  );
}

/** Words of the sentence. */
export function Said({ children }: { children: string }) {
  return (
    <Typography variant="h2" component="span">
      {children}
    </Typography>
  );
}

/** The characteristic that is asked about, among those of some kinds. */
export function OfWhich({
  of,
  kinds,
  address: { params, put },
}: {
  of: string;
  kinds: readonly Kind[] | null;
  address: Address;
}) {
  return (
    <CharacteristicPick
      value={of}
      kinds={kinds}
      onPick={(id) => put(ofAnother(params, id))}
      label={ASK.characteristic}
    />
  );
}
