import { z } from 'zod';
import type { AnswerView, EpisodeView } from '../../api/client';
import type { Deed } from '../../outbox/store';
import { ANSWER } from '../../words/signalPages';

export const OTHER = 'other';
export const NOTHING = 'nothing';

/** What is typed into an answer. */
const draft = z.object({
  cause: z.string(),
  causeText: z.string(),
  propose: z.boolean().default(false),
  action: z.string(),
  corrected: z.boolean().default(false),
  comment: z.string(),
  steps: z.array(z.string()),
  held: z.enum(['', 'yes', 'no']),
  files: z.array(z.object({ id: z.string(), name: z.string(), bytes: z.number() })).default([]),
});

/** An answer that is half typed, kept on the device until it is saved. */
export type AnswerDraft = z.infer<typeof draft>;

export const BLANK: AnswerDraft = {
  cause: '',
  causeText: '',
  propose: false,
  action: '',
  corrected: false,
  comment: '',
  steps: [],
  held: '',
  files: [],
};

/** On a shared terminal everybody has their own. */
const key = (person: string, episode: string) => `nuvek.answer.${person}.${episode}`;

export function loadAnswer(person: string, episode: string): AnswerDraft | null {
  try {
    return draft.parse(JSON.parse(localStorage.getItem(key(person, episode)) ?? 'null'));
  } catch {
    // What cannot be read is no draft.
    return null;
  }
}

export function keepAnswer(person: string, episode: string, answer: AnswerDraft | null): void {
  const isBlank = answer && Object.values(answer).every((said) => (typeof said === 'boolean' ? !said : !said.length));
  if (answer === null || isBlank) localStorage.removeItem(key(person, episode));
  else localStorage.setItem(key(person, episode), JSON.stringify(answer));
}

type AnswerDeed = Extract<Deed, { what: 'answer' }>;

/** A draft as it is sent. */
export function answerDeed(given: AnswerDraft, episode: EpisodeView, entry: string): AnswerDeed {
  const { cause, causeText, propose, action, comment, steps, held, corrected, files } = given;
  const inWords = cause === OTHER;
  return {
    what: 'answer',
    target: episode.characteristic,
    episode: episode.id,
    files,
    body: {
      entry,
      version: episode.version,
      action: action === '' ? ANSWER.lookedOnly : action,
      nothing_found: cause === NOTHING,
      cause: inWords || cause === NOTHING ? null : cause,
      cause_text: inWords ? causeText : null,
      propose: inWords && propose,
      comment: comment === '' ? null : comment,
      steps,
      held: held === '' ? null : held === 'yes',
      corrected,
    },
  };
}

/** An answer that was sent, as it was typed. */
export function draftOfAnswer({ body, files }: AnswerDeed): AnswerDraft {
  return {
    cause: body.nothing_found ? NOTHING : (body.cause ?? OTHER),
    causeText: body.cause_text ?? '',
    propose: body.propose ?? false,
    action: body.action,
    corrected: body.corrected ?? false,
    comment: body.comment ?? '',
    steps: body.steps ?? [],
    held: body.held == null ? '' : body.held ? 'yes' : 'no',
    files: [...files],
  };
}

/** The answer that stands for what this goes on from: one key gives it again. */
export function givenBefore({ answers, follows }: EpisodeView): AnswerView | null {
  const standing = answers.findLast(({ review }) => review == null || review.decision === 'accepted');
  return standing ?? (answers.length === 0 ? (follows?.answer ?? null) : null);
}

export function sameAs({ cause_id: id, cause, action }: AnswerView): AnswerDraft {
  const of = id ?? (cause == null ? NOTHING : OTHER);
  return { ...BLANK, cause: of, causeText: id == null ? (cause ?? '') : '', action };
}
