import { v4 as uuid } from 'uuid';
import { z } from 'zod';
import type { ChartView } from '../../api/chart';
import { NOTHING_TYPED } from '../../api/typed';
import type { components } from '../../api/schema';

/** How many of one kind were counted. */
const defects = z.object({ kind: z.string().nullable(), word: z.string().nullable(), count: z.number() });
export type Defects = z.infer<typeof defects>;

const draft = z.object({
  /** Sent with the sample: saving it twice keeps one. */
  entry: z.string(),
  readings: z.array(z.string()),
  components: z.array(z.string()),
  /** Readings changed when they were asked about, as they were typed first. */
  typedFirst: z.array(z.object({ piece: z.number(), given: z.string() })).default([]),
  /** Pieces left out on purpose, from 1. */
  leftOut: z.array(z.number()),
  inspected: z.string(),
  /** Conforming units since the rare event before. */
  between: z.string().default(''),
  /** When a rare event happened, by the site's clock; now where it is empty. */
  when: z.string().default(''),
  defects: z.array(defects),
  /** What was tapped, to undo it: place in `defects`, and how many. */
  tapped: z.array(z.object({ place: z.number(), count: z.number() })),
  /** It was said that nothing was found; else a sample without counts is one that was not counted yet. */
  none: z.boolean().default(false),
  tags: z.record(z.string(), z.string()),
  /** When it was first entered, where the server refused it later; now otherwise. */
  takenAt: z.string().nullable().default(null),
});

/** A sample that is being entered, kept on the device until it is saved. */
export type Draft = z.infer<typeof draft>;

/** Where a draft is kept: on a shared terminal everybody has their own. */
const key = (person: string, characteristic: string) => `nuvek.draft.${person}.${characteristic}`;

/** What a draft is drawn up from. */
export interface Form {
  pieces: number;
  components: number;
  tags: Record<string, string>;
}

type Setup = ChartView['characteristic'];

/** The tag that names the part of a short run, where there is one. */
const partTag = (c: Setup) => (c.parts.length > 0 ? ['part'] : []);

/** The form of a characteristic; tags are remembered from the sample before. */
export function formOf({ characteristic: c, points }: ChartView): Form {
  const before = [...points].reverse().find((p) => p.gap == null)?.tags ?? {};
  return {
    pieces: c.kind === 'measured' ? c.subgroup_size : 0,
    components: c.components.length,
    tags: Object.fromEntries([...partTag(c), ...c.asked_tags].map((tag) => [tag, before[tag] ?? ''])),
  };
}

export function freshDraft(form: Form): Draft {
  const blank = (count: number) => Array<string>(count).fill('');
  return {
    entry: uuid(),
    readings: blank(form.pieces),
    components: blank(form.components),
    typedFirst: [],
    leftOut: [],
    inspected: '',
    between: '',
    when: '',
    defects: [],
    tapped: [],
    none: false,
    tags: form.tags,
    takenAt: null,
  };
}

/** Whether anything was entered that would be a pity to lose. */
export function isBlank(d: Draft): boolean {
  return (
    [...d.readings, ...d.components, d.inspected, d.between, d.when].every((text) => text.trim() === '') &&
    d.defects.length === 0 &&
    !d.none
  );
}

/** What was being entered when the page was left, or a fresh draft. */
export function loadDraft(person: string, characteristic: string, form: Form): Draft {
  try {
    const kept = draft.parse(JSON.parse(localStorage.getItem(key(person, characteristic)) ?? 'null'));
    if (kept.readings.length === form.pieces && kept.components.length === form.components) return kept;
  } catch {
    // What cannot be read is no draft.
  }
  return freshDraft(form);
}

/** The draft once these readings were asked about: what is changed now stays with the sample. */
export function askedAbout(d: Draft, pieces: readonly number[]): Draft {
  const before = d.typedFirst.filter((first) => !pieces.includes(first.piece));
  const now = pieces.map((piece) => {
    const first = d.typedFirst.find((f) => f.piece === piece);
    return first ?? { piece, given: d.readings[piece - 1] ?? '' };
  });
  return { ...d, typedFirst: [...before, ...now] };
}

export function keepDraft(person: string, characteristic: string, d: Draft): void {
  if (isBlank(d)) localStorage.removeItem(key(person, characteristic));
  else localStorage.setItem(key(person, characteristic), JSON.stringify(d));
}

/** Whether a sample of the characteristic was begun on this device and not saved. */
export function isBegun(person: string, characteristic: string): boolean {
  return localStorage.getItem(key(person, characteristic)) !== null;
}

/** Counts so many more of a kind; another kind goes by its word. */
export function tap(d: Draft, kind: string | null, word: string | null, count: number): Draft {
  const found = d.defects.findIndex((k) => k.kind === kind && k.word === word);
  const place = found === -1 ? d.defects.length : found;
  const before = d.defects[place]?.count ?? 0;
  const all = [...d.defects];
  all[place] = { kind, word, count: before + count };
  return { ...d, defects: all, tapped: [...d.tapped, { place, count }], none: false };
}

/** Takes the last tap back. */
export function undo(d: Draft): Draft {
  const last = d.tapped[d.tapped.length - 1];
  if (!last) return { ...d, none: false };
  // Kinds stay where they are, so that earlier taps still find theirs.
  const all = d.defects.map((k, place) => (place === last.place ? { ...k, count: k.count - last.count } : k));
  const tapped = d.tapped.slice(0, -1);
  return { ...d, defects: tapped.length === 0 ? [] : all, tapped };
}

/** How many there are in all. */
export function counted(d: Draft): number {
  return d.defects.reduce((sum, k) => sum + k.count, 0);
}

/** The draft as the server reads it. */
export function typed(d: Draft, { kind, varying, chart }: Pick<Setup, 'kind' | 'varying' | 'chart'>) {
  const { readings, components, leftOut: left_out } = d;
  // Only what stands there no more was changed.
  const typed_first = d.typedFirst.filter(({ piece, given }) => readings[piece - 1] !== given);
  const tags = Object.fromEntries(Object.entries(d.tags).filter(([, value]) => value.trim() !== ''));
  if (kind === 'measured') return { ...NOTHING_TYPED, readings, components, left_out, tags, typed_first };
  if (kind === 'rare_event') return { ...NOTHING_TYPED, tags, between: chart === 'g' ? d.between : null };
  const inspected = varying ? d.inspected : null;
  const defects = d.defects.filter((k) => k.count > 0);
  return { ...NOTHING_TYPED, inspected, defects, tags };
}

/** A sample that was sent, as a draft again: to be mended and sent anew, with the time it was entered at. */
export function draftOf(body: Omit<components['schemas']['SampleEntry'], 'taken_at'>, takenAt: string): Draft {
  return {
    entry: uuid(),
    readings: body.readings ?? [],
    components: body.components ?? [],
    typedFirst: body.typed_first ?? [],
    leftOut: body.left_out ?? [],
    inspected: body.inspected ?? '',
    between: body.between ?? '',
    when: '',
    defects: (body.defects ?? []).map(({ kind = null, word = null, count }) => ({ kind, word, count })),
    tapped: (body.defects ?? []).map(({ count }, place) => ({ place, count })),
    none: (body.readings ?? []).length === 0 && (body.defects ?? []).length === 0,
    tags: body.tags ?? {},
    takenAt,
  };
}

/** Whether a text may still become a number with its unit; “6..3” cannot, whatever follows. */
export function mayBecomeNumber(text: string): boolean {
  return /^\s*[+\-−]?\d*([.,]\d*)?\s*(?![\d.,+\-−])[^\d.,]*$/.test(text);
}

/** Values of a row or column from a sheet, or of a gauge that sends several. */
export function pasted(text: string): string[] {
  // A decimal comma is no separator; a semicolon, a tab and a new line are.
  return text
    .split(/[\t\r\n;]+|\s{2,}|(?<=\d)\s(?=[-+−]?\d)/)
    .map((value) => value.trim())
    .filter((value) => value !== '');
}
