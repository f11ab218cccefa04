import { z } from 'zod';

const draft = z.object({
  cause: z.string(),
  causeText: z.string(),
  action: z.string(),
  comment: z.string(),
  steps: z.array(z.string()),
  held: z.enum(['', 'yes', 'no']),
});

/** An answer that is half typed, kept on the device until it is saved. */
export type AnswerDraft = z.infer<typeof draft>;

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
  if (answer === null || Object.values(answer).every((said) => said.length === 0))
    localStorage.removeItem(key(person, episode));
  else localStorage.setItem(key(person, episode), JSON.stringify(answer));
}
