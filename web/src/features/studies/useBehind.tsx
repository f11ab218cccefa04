import { type ReactNode, useState } from 'react';
import type { Behind, Selection } from '../../api/client';
import { BehindPanel } from './BehindPanel';

/** Opens the samples behind a figure, and the panel that lists them. */
export function useBehind(
  decimals: number,
): [show: (what: string, of: Selection, narrowed: Omit<Behind, 'of'>) => void, panel: ReactNode] {
  const [behind, setBehind] = useState<{ what: string; asked: Behind } | null>(null);
  const panel = behind && (
    <BehindPanel what={behind.what} asked={behind.asked} decimals={decimals} onClose={() => setBehind(null)} />
  );
  return [(what, of, narrowed) => setBehind({ what, asked: { of, ...narrowed } }), panel];
}
