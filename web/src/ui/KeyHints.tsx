import { Fragment } from 'react';

/** Keys, and what they do. */
export interface KeyHint {
  keys: readonly string[];
  does: string;
}

/** What keys do, in a line. */
export function KeyHints({ hints }: { hints: readonly KeyHint[] }) {
  return hints.map(({ keys, does }, i) => (
    <span key={does}>
      {i > 0 && ' · '}
      {keys.map((key) => (
        <Fragment key={key}>
          <kbd>{key}</kbd>{' '}
        </Fragment>
      ))}
      {does}
    </span>
  ));
}
