import type { ChartNote } from '../api/client';
import { when } from './time';

/** Notes on a point. */
export const NOTES = {
  title: 'Notes',
  note: 'Note on this sample',
  answer: 'Your answer',
  own: 'Your note',
  empty: 'The note is empty.',
  tooLong: 'This is longer than 2000 characters.',
  for: 'For',
  rings: 'It rings under their bell.',
  nobody: 'Nobody of that name has a bell.',
  write: 'Write note',
  reply: 'Answer',
  replyTo: (person: string) => `Answer the note of ${person}`,
  sendReply: 'Write answer',
  change: 'Change',
  changeOwn: 'Change your note',
  keep: 'Keep the change',
  leave: 'Leave it',
  printed: 'Notes on these points',
  onSample: (number: number) => `Sample ${number}`,
};

/** Who wrote a note, when, for whom, and when it was changed. */
export function writtenBy({ person, at, mentions, changed_at: changed }: ChartNote): string {
  return [
    `${person}, ${when(at)}`,
    ...(mentions.length > 0 ? [`for ${mentions.map(({ name }) => name).join(', ')}`] : []),
    ...(changed == null ? [] : [`changed ${when(changed)}`]),
  ].join(' · ');
}
