import type { Fault } from '../api/failure';
import type { components } from '../api/schema';
import { database } from '../device/database';
import type { ChosenFile } from '../device/files';

type Schemas = components['schemas'];

/** What a device sends, as the server takes it; its time is added when it is sent. */
export type Deed =
  | { what: 'sample'; target: string; body: Omit<Schemas['SampleEntry'], 'taken_at'> }
  | { what: 'gap'; target: string; body: Omit<Schemas['Skip'], 'taken_at'> }
  | { what: 'pieces'; target: string; body: Omit<Schemas['Pieces'], 'at'> }
  | { what: 'run'; target: string; body: Omit<Schemas['RunEntry'], 'taken_at'> }
  | { what: 'event'; target: string; body: Omit<Schemas['EventEntry'], 'at'> }
  | ({ what: 'answer'; body: Omit<Schemas['NewAnswer'], 'at' | 'files'> & Sent } & OfEpisode)
  | ({ what: 'addition'; body: Omit<Schemas['NewAddition'], 'at' | 'files'> & Sent } & OfEpisode);

interface Sent {
  entry: string;
}

/** What is said of an episode, with its files; the target is the characteristic, so that it goes after its samples. */
interface OfEpisode {
  target: string;
  episode: string;
  files: readonly ChosenFile[];
}

/** Something entered that the server has not confirmed yet. */
export interface Waiting {
  /** Made by the device; sending it twice keeps one. */
  entry: string;
  /** Who entered it: it is sent in nobody else's name. */
  person: string;
  personName: string;
  /** What it is, for people: characteristic or station, and what was entered. */
  title: string;
  /** When it was entered, by the clock of this device. */
  at: string;
  /** When it was taken, where that was before it was entered. */
  takenAt: string | null;
  deed: Deed;
  /** It may be taken back until then, and is not sent before. */
  heldUntil?: string | null;
  /** How often the server failed at it. */
  tries?: number;
  /** Why the server does not take it as it is, or that it stepped aside. */
  refused: (Fault & { status: number }) | null;
}

/** Everything that waits, in the order in which it was entered. */
export async function all(): Promise<Waiting[]> {
  // Nothing else is ever kept there.
  return (await (await database()).getAll('waiting')) as Waiting[];
}

/** Keeps an entry, over an earlier state of it. Done only when the device has written it. */
export async function keep(waiting: Waiting): Promise<void> {
  const tx = (await database()).transaction('waiting', 'readwrite', { durability: 'strict' });
  const key = await tx.store.index('entry').getKey(waiting.entry);
  await tx.store.put(waiting, key);
  await tx.done;
}

export async function forget(entry: string): Promise<void> {
  const tx = (await database()).transaction('waiting', 'readwrite');
  const key = await tx.store.index('entry').getKey(entry);
  if (key !== undefined) await tx.store.delete(key);
  await tx.done;
}
