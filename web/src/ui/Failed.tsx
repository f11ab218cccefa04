import { sentenceFor } from '../words/failures';
import { Notice } from './Notice';

/** Why a deed failed, if it did. */
export function Failed({ why, say = sentenceFor }: { why: unknown; say?: (why: unknown) => string }) {
  return why == null ? null : <Notice kind="problem">{say(why)}</Notice>;
}
