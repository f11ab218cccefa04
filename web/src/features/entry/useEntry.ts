import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { answered, api, AWAY, type ChartView, Failure, type Preview, type Saved } from '../../api/client';
import { useAccess } from '../../app/session';
import { type Draft, device, formOf, freshDraft, isBlank, keepDraft, loadDraft, typed } from './draft';

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
  /** Pieces without a reading, from 1: typed, or left out on purpose. */
  | { kind: 'blank'; pieces: number[] }
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
  /** Changes the draft, unless it is on its way. */
  change: (how: (draft: Draft) => Draft) => void;
  save: (confirmed?: boolean) => void;
  /** Saves without the pieces that have no reading. */
  leaveOut: () => void;
}

/** The state of the entry of one characteristic. */
export function useEntry(view: ChartView, onSaved: (saved: Saved) => void): EntryState {
  const { id: characteristic, kind, varying } = view.characteristic;
  const form = useMemo(() => formOf(view), [view]);
  const client = useQueryClient();
  const { session } = useAccess();
  const ended = session.kind === 'person' && session.ended;
  const [draft, setDraft] = useState<Draft>(() => loadDraft(characteristic, form));
  // A draft that was sent before the page was left may or may not have arrived: it is sent again.
  const [sending, setSending] = useState<Sending>(() =>
    draft.sentAt === null ? { kind: 'typing' } : { kind: 'waiting', failure: new Failure(AWAY) },
  );
  const [lastSaved, setLastSaved] = useState<Saved | null>(null);
  const confirmedBefore = useRef(false);
  const busy = useRef(false);

  useEffect(() => keepDraft(characteristic, draft), [characteristic, draft]);

  const body = useMemo(() => typed(draft, kind, varying), [draft, kind, varying]);
  const measured = kind === 'measured';
  // Nothing found is a finding where things are counted.
  const begun = measured ? draft.readings.some((r) => r.trim() !== '') : varying ? draft.inspected.trim() !== '' : !isBlank(draft);
  const preview = useQuery({
    queryKey: ['preview', characteristic, body],
    enabled: begun && sending.kind !== 'waiting',
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
    queryFn: ({ signal }) =>
      answered(
        api.POST('/api/characteristics/{id}/preview', {
          params: { path: { id: characteristic } },
          body,
          signal,
        }),
      ),
  });

  const submit = useCallback(
    (given: Draft, confirmed: boolean) => {
      if (busy.current) return;
      busy.current = true;
      confirmedBefore.current ||= confirmed;
      const again = given.sentAt;
      const sent = { ...given, sentAt: again ?? new Date().toISOString() };
      setDraft(sent);
      if (again === null || confirmed) setSending({ kind: 'sending' });
      const body = {
        ...typed(sent, kind, varying),
        device: device(),
        entry: sent.entry,
        confirmed: confirmedBefore.current,
        // The first time the server's clock counts; a sample that had to wait keeps its own time.
        taken_at: again,
      };
      answered(api.POST('/api/characteristics/{id}/samples', { params: { path: { id: characteristic } }, body }))
        .then((saved) => {
          confirmedBefore.current = false;
          setDraft({ ...freshDraft(form), tags: sent.tags });
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
    [characteristic, client, form, kind, onSaved, varying],
  );

  const save = useCallback(
    (confirmed = false) => {
      const blank = draft.readings.flatMap((r, i) => (r.trim() === '' && !draft.leftOut.includes(i + 1) ? [i + 1] : []));
      if (draft.sentAt === null && blank.length > 0) setSending({ kind: 'blank', pieces: blank });
      else submit(draft, confirmed);
    },
    [draft, submit],
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
    preview: begun ? preview.data : undefined,
    previewFailure: begun && preview.error instanceof Failure ? preview.error : null,
    lastSaved,
    change: (how) => {
      if (sending.kind === 'sending' || sending.kind === 'waiting') return;
      setSending({ kind: 'typing' });
      setDraft(how);
    },
    save,
    leaveOut: () => {
      const leftOut = draft.readings.flatMap((r, i) => (r.trim() === '' ? [i + 1] : []));
      submit({ ...draft, leftOut }, false);
    },
  };
}
