import { v4 as uuid } from 'uuid';

/** A sample that is being typed, kept on the device until the server has it. */
export interface Draft {
  /** Sent with the sample: saving it twice keeps one. */
  entry: string;
  readings: string[];
  /** When it was first sent; a sample that had to wait keeps its time. */
  sentAt: string | null;
}

const DEVICE = 'nuvek.device';
const key = (characteristic: string) => `nuvek.draft.${characteristic}`;

/** This device, by a number that it gave itself. */
export function device(): string {
  const known = localStorage.getItem(DEVICE);
  if (known) return known;
  const fresh = uuid();
  localStorage.setItem(DEVICE, fresh);
  return fresh;
}

export function freshDraft(pieces: number): Draft {
  return { entry: uuid(), readings: Array<string>(pieces).fill(''), sentAt: null };
}

function isDraft(value: unknown, pieces: number): value is Draft {
  if (value === null || typeof value !== 'object') return false;
  const { entry, readings, sentAt } = value as Partial<Record<keyof Draft, unknown>>;
  return (
    typeof entry === 'string' &&
    Array.isArray(readings) &&
    readings.length === pieces &&
    readings.every((r) => typeof r === 'string') &&
    (sentAt === null || typeof sentAt === 'string')
  );
}

/** What was being typed when the page was left, or a fresh draft. */
export function loadDraft(characteristic: string, pieces: number): Draft {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key(characteristic)) ?? 'null');
    if (isDraft(kept, pieces)) return kept;
  } catch {
    // What cannot be read is no draft.
  }
  return freshDraft(pieces);
}

export function keepDraft(characteristic: string, draft: Draft): void {
  if (draft.readings.every((r) => r === '')) localStorage.removeItem(key(characteristic));
  else localStorage.setItem(key(characteristic), JSON.stringify(draft));
}
