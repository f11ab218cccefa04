import type { Explained } from '../api/client';
import { capital } from './numbers';
import { DECISIONS } from './signals';
import { onDay, when } from './time';

/** What may explain an episode. */
export const EXPLAINED = {
  title: 'What may explain it',
  differs: 'What differs inside it',
  tooFew: 'Too few samples to compare: at least three inside it, and five before it.',
  nothingDiffers: (tested: number) =>
    tested === 0
      ? 'No tag is commoner inside it than before.'
      : `Nothing stands out among ${tested === 1 ? '1 value' : `${tested} values`} of tags.`,
  markedBy: (tag: string) => `See the chart marked by ${tag}`,
  near: 'What happened near it',
  nothingNear: 'No event, no note, no other tag.',
  alike: 'How the last of this pattern were answered',
  sameCause: (cause: string) => `Where else “${cause}” was the cause here`,
  nowhereElse: 'Nowhere else.',
  moreOften: (more: number) => `And ${more} more.`,
  noneAlike: 'None was answered here before.',
  samples: (from: number, to: number) => (from === to ? `Sample ${from}` : `Samples ${from} to ${to}`),
};

type Of<K extends keyof Explained> = Explained[K] extends (infer T)[] ? T : never;

/** "mould M4: 6 of 7 samples, before 11 of 50". */
export function differsInWords({ tag, value, inside, outside }: Explained['differs']['found'][number]): string {
  return `${tag} ${value}: ${inside[0]} of ${inside[1]} samples, before ${outside[0]} of ${outside[1]}.`;
}

export function changedInWords({ tag, before, after }: Of<'changed'>): string {
  if (before == null) return `It begins with ${tag} ${after ?? ''}.`;
  return after == null
    ? `It begins without ${tag}, which was ${before}.`
    : `${capital(tag)} changed from ${before} to ${after}.`;
}

export function eventInWords({ at, kind, lot, text }: Of<'events'>): string {
  return `${when(at)}: ${[kind, lot, text].filter(Boolean).join(' · ')}`;
}

export function noteInWords({ number, person, text }: Of<'notes'>): string {
  return `Sample ${number}, ${person}: ${text}`;
}

/** How an earlier one was answered, and what was decided. */
export function alikeInWords({ answer }: Of<'alike'>): string {
  if (!answer) return '';
  const decided = answer.review ? `, ${DECISIONS[answer.review.decision].toLowerCase()}` : '';
  return `${answer.cause ?? 'nothing found'}; ${answer.action} (${answer.person}, ${onDay(answer.at)}${decided})`;
}

/** What was made since the last clean sample, to be held. */
export function madeInWords({ clean, since, until, pieces, lots }: NonNullable<Explained['made']>): string {
  const parts = [
    `Made since the last clean sample (${clean}, ${when(since)})${until == null ? '' : ` until ${when(until)}`}`,
    ...(pieces == null ? [] : [`${pieces} pieces`]),
    ...(lots.length === 0 ? [] : [`${lots.length === 1 ? 'lot' : 'lots'} ${lots.join(', ')}`]),
  ];
  return `${parts.join(', ')}.`;
}
