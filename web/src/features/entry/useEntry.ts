import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { answered, api, AWAY, Failure, type Preview, type Saved } from '../../api/client';
import { useAccess } from '../../app/session';
import { type Draft, device, freshDraft, keepDraft, loadDraft } from './draft';

/** A sample that waits for the server is sent again after this time. */
const AGAIN_MS = 3000;

export interface Unusual {
  piece: number;
  given: number;
  lower?: number | null;
  upper?: number | null;
}

export type Sending =
  | { kind: 'typing' }
  | { kind: 'sending' }
  /** Readings outside the soft bounds: typed again, or confirmed. */
  | { kind: 'asked'; unusual: Unusual[] }
  | { kind: 'refused'; failure: Failure }
  /** Whether the server has it is not known: it stays as it is and is sent again. */
  | { kind: 'waiting'; failure: Failure };

export interface EntryState {
  draft: Draft;
  sending: Sending;
  preview: Preview | undefined;
  /** Why the readings typed so far have no point in pencil. */
  previewFailure: Failure | null;
  lastSaved: Saved | null;
  type: (piece: number, text: string) => void;
  save: (confirmed?: boolean) => void;
}

/** The state of the entry of one characteristic. */
export function useEntry(characteristic: string, pieces: number, onSaved: (saved: Saved) => void): EntryState {
  const client = useQueryClient();
  const { session } = useAccess();
  const ended = session.kind === 'person' && session.ended;
  const [draft, setDraft] = useState<Draft>(() => loadDraft(characteristic, pieces));
  // A draft that was sent before the page was left may or may not have arrived: it is sent again.
  const [sending, setSending] = useState<Sending>(() =>
    draft.sentAt === null ? { kind: 'typing' } : { kind: 'waiting', failure: new Failure(AWAY) },
  );
  const [lastSaved, setLastSaved] = useState<Saved | null>(null);
  const confirmedBefore = useRef(false);
  const busy = useRef(false);

  useEffect(() => keepDraft(characteristic, draft), [characteristic, draft]);

  const typed = draft.readings.some((r) => r.trim() !== '');
  const preview = useQuery({
    queryKey: ['preview', characteristic, draft.readings],
    enabled: typed && sending.kind !== 'waiting',
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
    queryFn: ({ signal }) =>
      answered(
        api.POST('/api/characteristics/{id}/preview', {
          params: { path: { id: characteristic } },
          body: { readings: draft.readings },
          signal,
        }),
      ),
  });

  const save = useCallback(
    (confirmed = false) => {
      if (busy.current) return;
      busy.current = true;
      confirmedBefore.current ||= confirmed;
      const again = draft.sentAt;
      const sent = { ...draft, sentAt: again ?? new Date().toISOString() };
      setDraft(sent);
      if (again === null || confirmed) setSending({ kind: 'sending' });
      const body = {
        device: device(),
        entry: sent.entry,
        readings: sent.readings,
        confirmed: confirmedBefore.current,
        // The first time the server's clock counts; a sample that had to wait keeps its own time.
        ...(again === null ? {} : { taken_at: again }),
      };
      answered(api.POST('/api/characteristics/{id}/samples', { params: { path: { id: characteristic } }, body }))
        .then((saved) => {
          confirmedBefore.current = false;
          setDraft(freshDraft(pieces));
          setSending({ kind: 'typing' });
          setLastSaved(saved);
          for (const queryKey of [['chart', characteristic], ['rounds'], ['signals']]) {
            void client.invalidateQueries({ queryKey });
          }
          onSaved(saved);
        })
        .catch((error: unknown) => {
          const failure = error instanceof Failure ? error : new Failure('unknown');
          const known = failure.status >= 400 && failure.status < 500 && failure.status !== 401;
          if (known) {
            // The server has said no, so it does not have it: it may be changed, and gets its time anew.
            setDraft((d) => ({ ...d, sentAt: null }));
            const asked = failure.code === 'confirm_readings';
            setSending(asked ? { kind: 'asked', unusual: failure.params.unusual as Unusual[] } : { kind: 'refused', failure });
          } else {
            setSending({ kind: 'waiting', failure });
          }
        })
        .finally(() => {
          busy.current = false;
        });
    },
    [characteristic, client, draft, onSaved, pieces],
  );

  const waiting = sending.kind === 'waiting';
  const away = waiting && sending.failure.status !== 401;
  useEffect(() => {
    if (!waiting || ended) return;
    const timer = window.setTimeout(() => save(), away ? AGAIN_MS : 0);
    return () => window.clearTimeout(timer);
  }, [waiting, ended, away, save]);

  return {
    draft,
    sending,
    preview: typed ? preview.data : undefined,
    previewFailure: typed && preview.error instanceof Failure ? preview.error : null,
    lastSaved,
    type: (piece, text) => {
      setSending((now) => (now.kind === 'sending' || now.kind === 'waiting' ? now : { kind: 'typing' }));
      setDraft((d) => ({ ...d, readings: d.readings.map((r, i) => (i === piece ? text : r)) }));
    },
    save,
  };
}
