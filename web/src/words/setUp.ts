import type { WrongField } from '../api/client';
import { factsOf, isFailure } from '../api/failure';
import { sentenceFor } from './failures';
import { allowed } from './fields';
import { FIELDS } from './plan';

function wrongs(error: unknown): readonly WrongField[] {
  return factsOf(error, 'set_up_refused')?.wrong ?? [];
}

/** What is right in each field that is refused. */
export function wrongFields(error: unknown): Record<string, string> {
  return Object.fromEntries(wrongs(error).map((wrong) => [wrong.field, `Right is: ${allowed(wrong)}.`]));
}

/** A failure of a set-up as a sentence. */
export function setUpSentence(error: unknown): string {
  const wrong = wrongs(error);
  if (wrong.length > 0)
    return wrong.map((one) => `${FIELDS[one.field] ?? one.field}: right is ${allowed(one)}.`).join(' ');
  if (isFailure(error, 'changed'))
    return 'Somebody changed it meanwhile. Open it again from the plan to see how it stands now.';
  return sentenceFor(error);
}
