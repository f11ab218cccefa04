import { v4 as uuid } from 'uuid';
import { z } from 'zod';
import type { Analyte, Bench, Offer, UnusualResult } from '../../api/client';
import type { Deed } from '../../outbox/store';

const draft = z.object({
  /** Sent with the run: saving it twice keeps one. */
  entry: z.string(),
  /** Results as typed, by characteristic of the level. */
  results: z.record(z.string(), z.string()),
  /** Lots by analyte; the ones used last where nothing was typed. */
  reagent: z.record(z.string(), z.string()),
  control: z.record(z.string(), z.string()),
  /** Offers of an analyser that were taken over, by characteristic. */
  offers: z.record(z.string(), z.string()),
  /** Results changed when they were asked about, as they were typed first, by characteristic. */
  typedFirst: z.record(z.string(), z.string()).default({}),
  /** When it was first entered, where the server refused it later; now otherwise. */
  takenAt: z.string().nullable().default(null),
});

/** A run that is being entered, kept on the device until it is saved. */
export type RunDraft = z.infer<typeof draft>;

const key = (person: string, station: string) => `nuvek.run.${person}.${station}`;

export function freshRun(): RunDraft {
  return { entry: uuid(), results: {}, reagent: {}, control: {}, offers: {}, typedFirst: {}, takenAt: null };
}

export function isBlankRun(d: RunDraft): boolean {
  return Object.values(d.results).every((text) => text.trim() === '');
}

/** The run that was being entered when the page was left, or a fresh one. */
export function loadRun(person: string, station: string): RunDraft {
  try {
    return draft.parse(JSON.parse(localStorage.getItem(key(person, station)) ?? 'null'));
  } catch {
    // What cannot be read is no draft.
    return freshRun();
  }
}

export function keepRun(person: string, station: string, d: RunDraft): void {
  if (isBlankRun(d)) localStorage.removeItem(key(person, station));
  else localStorage.setItem(key(person, station), JSON.stringify(d));
}

/** Whether a run of the bench was begun on this device and not saved. */
export function isRunBegun(person: string, station: string): boolean {
  return localStorage.getItem(key(person, station)) !== null;
}

/** A run that was sent, as a draft again: to be mended and sent anew, with the time it was entered at. */
export function runDraftOf(
  body: Extract<Deed, { what: 'run' }>['body'],
  bench: Bench | undefined,
  takenAt: string,
): RunDraft {
  const lots = (which: 'reagent_lot' | 'control_lot') =>
    Object.fromEntries(
      (bench?.analytes ?? []).flatMap((analyte) => {
        const result = body.results.find((r) =>
          analyte.levels.some((level) => level.characteristic === r.characteristic),
        );
        return result ? [[analyte.id, result[which] ?? '']] : [];
      }),
    );
  return {
    ...freshRun(),
    results: Object.fromEntries(body.results.map(({ characteristic, result }) => [characteristic, result])),
    reagent: lots('reagent_lot'),
    control: lots('control_lot'),
    takenAt,
  };
}

/** The lots of an analyte, as typed or as used last. */
export function lotsOf(d: RunDraft, analyte: Analyte): { reagent: string; control: string } {
  return {
    reagent: d.reagent[analyte.id] ?? analyte.reagent_lot ?? '',
    control: d.control[analyte.id] ?? analyte.control_lot ?? '',
  };
}

/** The results that are typed, as the server reads them. */
export function typedRun(d: RunDraft, bench: Bench) {
  return bench.analytes.flatMap((analyte) => {
    const { reagent, control } = lotsOf(d, analyte);
    const lot = (text: string) => (text.trim() === '' ? null : text);
    return analyte.levels
      .map(({ characteristic, lot: own }) => ({
        characteristic,
        result: d.results[characteristic] ?? '',
        reagent_lot: lot(reagent),
        // A lot that runs beside is known by its level.
        control_lot: own ?? lot(control),
      }))
      .filter(({ result }) => result.trim() !== '')
      .map((typed) => {
        const first = d.typedFirst[typed.characteristic];
        return { ...typed, typed_first: first === undefined || first === typed.result ? null : first };
      });
  });
}

/** The draft once these results were asked about: what is changed now stays with them. */
export function askedAboutRun(d: RunDraft, cells: readonly string[]): RunDraft {
  const now = Object.fromEntries(cells.map((cell) => [cell, d.typedFirst[cell] ?? d.results[cell] ?? '']));
  return { ...d, typedFirst: { ...d.typedFirst, ...now } };
}

/** The draft with what was meant by each result that was asked about, where that is known. */
export function asMeant(d: RunDraft, asked: readonly UnusualResult[]): RunDraft {
  const meant = asked.flatMap(({ characteristic, unusual: [first] }) =>
    first?.likely == null ? [] : [[characteristic, first.likely] as const],
  );
  return { ...d, results: { ...d.results, ...Object.fromEntries(meant) } };
}

/** Results of an analyser, taken over into cells that are blank; saving the run confirms them. */
export function takeOver(d: RunDraft, offers: readonly Offer[]): RunDraft {
  const taken = offers.flatMap(({ id, characteristic, value }) =>
    characteristic == null ? [] : [{ id, characteristic, value: value.split(' ')[0] ?? '' }],
  );
  return {
    ...d,
    results: { ...d.results, ...Object.fromEntries(taken.map((t) => [t.characteristic, t.value])) },
    offers: { ...d.offers, ...Object.fromEntries(taken.map((t) => [t.characteristic, t.id])) },
  };
}

/** Cells of the grid in reading order. */
export function cellsOf(bench: Bench): string[] {
  return bench.analytes.flatMap((analyte) => analyte.levels.map((level) => level.characteristic));
}

/** The next cell without a result, going round; nothing when all have one. */
export function nextBlank(cells: readonly string[], d: RunDraft, from: string): string | null {
  const at = cells.indexOf(from);
  const round = [...cells.slice(at + 1), ...cells.slice(0, at + 1)];
  return round.find((cell) => (d.results[cell] ?? '').trim() === '') ?? null;
}
