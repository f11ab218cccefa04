import { z } from 'zod';

const draft = z.object({ cause: z.string(), causeText: z.string(), action: z.string() });

/** An answer that is half typed, kept on the device until it is saved. */
export type AnswerDraft = z.infer<typeof draft>;

/** On a shared terminal everybody has their own. */
const key = (person: string, signal: string) => `nuvek.answer.${person}.${signal}`;

export function loadAnswer(person: string, signal: string): AnswerDraft | null {
  try {
    return draft.parse(JSON.parse(localStorage.getItem(key(person, signal)) ?? 'null'));
  } catch {
    // What cannot be read is no draft.
    return null;
  }
}

export function keepAnswer(person: string, signal: string, answer: AnswerDraft | null): void {
  if (answer === null || Object.values(answer).every((text) => text === ''))
    localStorage.removeItem(key(person, signal));
  else localStorage.setItem(key(person, signal), JSON.stringify(answer));
}
