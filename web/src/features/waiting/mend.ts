import type { Bench } from '../../api/client';
import type { Deed, Waiting } from '../../outbox/store';
import { draftOf, isBegun, keepDraft } from '../entry';
import { isRunBegun, keepRun, runDraftOf } from '../lab';
import { draftOfAnswer, keepAnswer, loadAnswer } from '../signals';

/** Where an entry of this kind is typed; nothing for what is told in a few taps. */
export function typedAt(deed: Deed): string | null {
  switch (deed.what) {
    case 'sample':
      return `/rounds/${deed.target}`;
    case 'run':
      return `/lab?bench=${deed.target}${deed.body.repeats == null ? '' : `&repeats=${deed.body.repeats}`}`;
    case 'answer':
      return `/signals/${deed.episode}`;
    default:
      return null;
  }
}

/** Puts an entry back into its form, with the time it was entered at; not over another that is half typed there. */
export function typeAgain({ deed, person, takenAt, at }: Waiting, benches: readonly Bench[]): boolean {
  const first = takenAt ?? at;
  if (deed.what === 'sample') {
    if (isBegun(person, deed.target)) return false;
    keepDraft(person, deed.target, draftOf(deed.body, first));
  } else if (deed.what === 'run') {
    if (isRunBegun(person, deed.target)) return false;
    keepRun(
      person,
      deed.target,
      runDraftOf(
        deed.body,
        benches.find((b) => b.station === deed.target),
        first,
      ),
    );
  } else if (deed.what === 'answer') {
    if (loadAnswer(person, deed.episode)) return false;
    keepAnswer(person, deed.episode, draftOfAnswer(deed));
  }
  return true;
}
