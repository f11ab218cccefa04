import { Failure } from '../../api/client';
import { sentenceFor } from '../../words/failures';
import { FIELDS } from '../../words/plan';

interface Wrong {
  field: string;
  expected: string;
}

function wrongs(error: unknown): Wrong[] {
  if (!(error instanceof Failure) || error.code !== 'set_up_refused') return [];
  return Array.isArray(error.params.wrong) ? (error.params.wrong as Wrong[]) : [];
}

/** What is right in each field that is refused. */
export function wrongFields(error: unknown): Record<string, string> {
  return Object.fromEntries(wrongs(error).map(({ field, expected }) => [field, `Right is: ${expected}.`]));
}

/** A failure of the plan as a sentence. */
export function planSentence(error: unknown): string {
  const wrong = wrongs(error);
  if (wrong.length > 0) return wrong.map(({ field, expected }) => `${FIELDS[field] ?? field}: right is ${expected}.`).join(' ');
  if (error instanceof Failure && error.code === 'changed') {
    return 'Somebody changed it meanwhile. Open it again from the plan to see how it stands now.';
  }
  return sentenceFor(error);
}
