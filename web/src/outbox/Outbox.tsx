import { useQueryClient } from '@tanstack/react-query';
import { createContext, type ReactNode, use, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { News } from '../api/client';
import { Failure } from '../api/failure';
import { touch } from '../api/touches';
import { useAccess } from '../session/session';
import { asFailure, type Outcome, send, type Sent } from './send';
import { step } from './step';
import { all, type Deed, forget, keep, type Waiting } from './store';

/** What waits is sent again after this time. */
const AGAIN_MS = 3000;

interface Submitting {
  /** So long it can be taken back before it is sent. */
  holdMs?: number;
  /** When it was taken, where that was before now. */
  takenAt?: string | null;
  /** It is safe from here on. */
  onKept?: () => void;
}

/** What an entry that had to wait raised when it went through. */
export interface LateNews {
  title: string;
  episodes: readonly string[];
  run: string | null;
}

interface Outbox {
  /** What entries raised that went through after their person had left them. */
  news: readonly LateNews[];
  /** Somebody has read it. */
  heard: () => void;
  /** Everything on this device that the server has not confirmed, oldest first. */
  waiting: readonly Waiting[];
  /** Keeps an entry on the device, then sends it; tells what became of it. */
  submit: (deed: Deed, title: string, more?: Submitting) => Promise<Outcome>;
  /** Sends a refused entry again, changed or not. */
  again: (entry: Waiting) => Promise<void>;
  /** Gives an entry up, for good. */
  drop: (entry: string) => Promise<void>;
}

const Context = createContext<Outbox | null>(null);

/** What can still be taken back stays here. */
function isHeld({ heldUntil }: Waiting, now: number): boolean {
  return heldUntil != null && Date.parse(heldUntil) > now;
}

/** What an entry changes, before the server has told of it. */
function newsOf(deed: Deed): News {
  const { target } = deed;
  switch (deed.what) {
    case 'sample':
    case 'gap':
      return { kind: 'sample', characteristic: target };
    case 'run':
      return { kind: 'run', station: target };
    case 'event':
    case 'pieces':
      return { kind: 'station', station: target };
    case 'answer':
    case 'addition':
      return { kind: 'episode', characteristic: target, episode: deed.episode };
  }
}

/** One sender at a time on a device, whatever tabs are open. */
async function alone(work: () => Promise<void>): Promise<void> {
  // Without a secure context there are no locks; saving stays idempotent.
  if ('locks' in navigator) await navigator.locks.request('nuvek.outbox', work);
  else await work();
}

/** Entries leave this device in order and once, whatever the network does meanwhile. */
export function OutboxProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const { session } = useAccess();
  const person = session.kind === 'person' ? session.person : null;
  const mayWork = session.kind === 'person' && !session.ended;
  const [waiting, setWaiting] = useState<readonly Waiting[]>([]);
  const [news, setNews] = useState<readonly LateNews[]>([]);
  const look = useCallback(async () => setWaiting(await all()), []);
  // Somebody who waits for the outcome of an entry, by its id.
  const asking = useRef(new Map<string, (outcome: Outcome) => void>());

  const tell = useCallback((entry: string, outcome: Outcome) => {
    asking.current.get(entry)?.(outcome);
    asking.current.delete(entry);
  }, []);

  // Nobody looks on any more when it goes through, so what it raised is said wherever they are.
  const raised = useCallback((item: Waiting, { saved, run }: Sent) => {
    const episodes = saved?.asking ?? [];
    if (episodes.length > 0 || run?.verdict === 'rejected')
      setNews((before) => [...before, { title: item.title, episodes, run: run?.id ?? null }]);
  }, []);

  const sendAll = useCallback(async () => {
    // Where an entry is tried again, what was entered later waits behind it.
    const held = new Set<string>();
    const now = Date.now();
    for (const item of (await all()).filter((w) => w.person === person?.id && !w.refused && !isHeld(w, now))) {
      if (held.has(item.deed.target)) {
        tell(item.entry, { kind: 'waiting', failure: new Failure({ code: 'behind_another', params: {} }) });
        continue;
      }
      try {
        // Sent while the person looks on, the server's clock counts; what had to wait keeps its own time.
        const sent = await send(item.deed, item.takenAt ?? (asking.current.has(item.entry) ? null : item.at));
        await forget(item.entry);
        void touch(client, newsOf(item.deed));
        if (!asking.current.has(item.entry)) raised(item, sent);
        tell(item.entry, { kind: 'saved', ...sent });
      } catch (error) {
        const failure = asFailure(error);
        const { fault, status } = failure;
        const next = step(failure, item.tries ?? 0);
        if (next === 'all_wait') {
          // Order is kept: what was entered later waits behind it. It stands in the list before anybody is told.
          await look();
          for (const entry of [...asking.current.keys()]) tell(entry, { kind: 'waiting', failure });
          break;
        }
        if (next === 'try_again') {
          held.add(item.deed.target);
          await keep({ ...item, tries: (item.tries ?? 0) + 1 });
          await look();
          tell(item.entry, { kind: 'waiting', failure });
        } else if (next === 'aside') {
          await keep({ ...item, refused: { code: 'stepped_aside', params: {}, status } });
          tell(item.entry, { kind: 'waiting', failure });
        } else if (asking.current.has(item.entry)) {
          // It is still on the screen, where it can be changed.
          await forget(item.entry);
          tell(item.entry, { kind: 'refused', failure });
        } else {
          await keep({ ...item, refused: { ...fault, status } });
        }
      }
    }
    await look();
  }, [client, look, person?.id, raised, tell]);

  const sendNow = useCallback(() => alone(sendAll), [sendAll]);

  const open = waiting.filter((w) => !w.refused && w.person === person?.id).length;
  useEffect(() => {
    void all().then(setWaiting);
    if (!mayWork) return;
    void sendNow();
    const now = () => void sendNow();
    window.addEventListener('online', now);
    return () => window.removeEventListener('online', now);
  }, [look, mayWork, sendNow]);
  useEffect(() => {
    if (!mayWork || open === 0) return;
    const timer = window.setInterval(() => void sendNow(), AGAIN_MS);
    return () => window.clearInterval(timer);
  }, [mayWork, open, sendNow]);

  const outbox = useMemo<Outbox>(
    () => ({
      waiting,
      submit: async (deed, title, { takenAt = null, onKept, holdMs } = {}) => {
        if (!person) return { kind: 'refused', failure: new Failure({ code: 'not_signed_in', params: {} }, 401) };
        const { entry } = deed.body;
        try {
          const at = new Date().toISOString();
          const heldUntil = holdMs === undefined ? null : new Date(Date.now() + holdMs).toISOString();
          await keep({
            entry,
            person: person.id,
            personName: person.name,
            title,
            at,
            takenAt,
            heldUntil,
            deed,
            refused: null,
          });
          if (heldUntil !== null) {
            await look();
            return { kind: 'waiting', failure: new Failure({ code: 'held', params: {} }) };
          }
        } catch {
          return { kind: 'refused', failure: new Failure({ code: 'device_is_full', params: {} }) };
        }
        onKept?.();
        const outcome = new Promise<Outcome>((resolve) => asking.current.set(entry, resolve));
        void sendNow();
        return outcome;
      },
      again: async (entry) => {
        await keep({ ...entry, refused: null, tries: 0 });
        await sendNow();
      },
      news,
      heard: () => setNews([]),
      drop: async (entry) => {
        await forget(entry);
        await look();
      },
    }),
    [look, news, person, sendNow, waiting],
  );
  return <Context value={outbox}>{children}</Context>;
}

export function useOutbox(): Outbox {
  const outbox = use(Context);
  if (!outbox) throw new Error('useOutbox outside OutboxProvider');
  return outbox;
}
