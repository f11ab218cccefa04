import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { ChartView } from '../../api/chart';
import { answered, api, type Preview, type Saved, type Unusual } from '../../api/client';
import { factsOf, Failure } from '../../api/failure';
import { queries } from '../../api/queries';
import { usePerson } from '../../session/session';
import { device } from '../../device/id';
import { useOutbox } from '../../outbox/Outbox';
import { momentOf } from '../../words/time';
import { askedAbout, counted, type Draft, formOf, freshDraft, isBlank, keepDraft, loadDraft, typed } from './draft';

export type Sending =
  | { kind: 'typing' }
  | { kind: 'sending' }
  /** Readings that are not usual: typed again, taken as they were meant, or confirmed. */
  | { kind: 'asked'; unusual: Unusual[] }
  /** Pieces without a reading, from 1: typed, or left out on purpose. */
  | { kind: 'blank'; pieces: number[] }
  /** Nothing was counted, and nobody said that nothing was found. */
  | { kind: 'nothing' }
  | { kind: 'refused'; failure: Failure };

/** What became of the sample before. */
export type Before =
  | { kind: 'saved'; saved: Saved }
  /** It is on the device and goes through by itself. */
  | { kind: 'waiting'; failure: Failure; entry: string };

export interface EntryState {
  draft: Draft;
  sending: Sending;
  preview: Preview | undefined;
  /** Why the readings typed so far have no point in pencil. */
  previewFailure: Failure | null;
  before: Before | null;
  /** Changes the draft, unless it is on its way. */
  change: (how: (draft: Draft) => Draft) => void;
  save: (confirmed?: boolean) => void;
  /** Saves with what was meant by each reading that was asked about, where that is known. */
  takeMeant: () => void;
  /** Saves without the pieces that have no reading. */
  leaveOut: () => void;
  /** Readings that are typed so far, where they are fewer than a sample has. */
  soFar: { typed: number; of: number } | null;
}

/** The state of the entry of one characteristic. */
export function useEntry(view: ChartView, onDone: (before: Before) => void): EntryState {
  const { id: characteristic, kind, varying, chart } = view.characteristic;
  const form = useMemo(() => formOf(view), [view]);
  const { id: person } = usePerson();
  const { submit, waiting } = useOutbox();
  const [draft, setDraft] = useState<Draft>(() => loadDraft(person, characteristic, form));
  const [sending, setSending] = useState<Sending>({ kind: 'typing' });
  const [before, setBefore] = useState<Before | null>(null);
  const confirmedBefore = useRef(false);
  const busy = useRef(false);

  useEffect(() => keepDraft(person, characteristic, draft), [person, characteristic, draft]);
  // The page was left between keeping the entry and clearing the form: it is not to be entered twice.
  if (sending.kind === 'typing' && waiting.some((w) => w.entry === draft.entry)) setDraft(freshDraft(form));

  const body = useMemo(() => typed(draft, { kind, varying, chart }), [draft, kind, varying, chart]);
  const measured = kind === 'measured';
  // Nothing found is a finding where things are counted.
  const event = kind === 'rare_event';
  const begun = measured
    ? draft.readings.some((r) => r.trim() !== '')
    : event
      ? draft.between.trim() !== ''
      : varying
        ? draft.inspected.trim() !== ''
        : !isBlank(draft);
  const preview = useQuery({
    queryKey: queries.preview(characteristic, body),
    enabled: begun,
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

  const enter = useCallback(
    async (given: Draft, confirmed: boolean) => {
      if (busy.current) return;
      busy.current = true;
      confirmedBefore.current ||= confirmed;
      setSending({ kind: 'sending' });
      const sample = {
        ...typed(given, { kind, varying, chart }),
        device: device(),
        entry: given.entry,
        confirmed: confirmedBefore.current,
      };
      // Once the outbox has it, the draft would only be a second copy.
      const onKept = () => keepDraft(person, characteristic, freshDraft(form));
      const title = `${view.characteristic.name}: ${inShort(given, measured)}`;
      const outcome = await submit({ what: 'sample', target: characteristic, body: sample }, title, {
        takenAt: momentOf(given.when) ?? given.takenAt,
        onKept,
      });
      busy.current = false;
      if (outcome.kind === 'refused') {
        const { failure } = outcome;
        keepDraft(person, characteristic, given);
        const asked = factsOf(failure, 'confirm_readings');
        if (asked) {
          const pieces = asked.unusual.map((u) => u.piece);
          setDraft((d) => askedAbout(d, pieces));
        }
        setSending(asked ? { kind: 'asked', unusual: asked.unusual } : { kind: 'refused', failure });
        return;
      }
      confirmedBefore.current = false;
      setDraft({ ...freshDraft(form), tags: given.tags });
      setSending({ kind: 'typing' });
      const done: Before | null =
        outcome.kind === 'waiting'
          ? { ...outcome, entry: given.entry }
          : outcome.saved
            ? { kind: 'saved', saved: outcome.saved }
            : null;
      setBefore(done);
      if (done) onDone(done);
    },
    [person, characteristic, chart, form, kind, measured, onDone, submit, varying, view.characteristic.name],
  );

  const filled = draft.readings.filter((r) => r.trim() !== '').length;
  return {
    draft,
    sending,
    soFar:
      measured && filled > 0 && filled < draft.readings.length ? { typed: filled, of: draft.readings.length } : null,
    preview: begun ? preview.data : undefined,
    previewFailure: begun && preview.error instanceof Failure ? preview.error : null,
    before,
    change: (how) => {
      if (sending.kind === 'sending') return;
      setSending({ kind: 'typing' });
      setDraft(how);
    },
    save: (confirmed = false) => {
      const blank = draft.readings.flatMap((r, i) =>
        r.trim() === '' && !draft.leftOut.includes(i + 1) ? [i + 1] : [],
      );
      // A second tap on Save must not make a sample of what was never counted.
      if (!measured && !event && counted(draft) === 0 && !draft.none) setSending({ kind: 'nothing' });
      else if (blank.length > 0) setSending({ kind: 'blank', pieces: blank });
      else void enter(draft, confirmed);
    },
    takeMeant: () => {
      if (sending.kind !== 'asked') return;
      const meant = new Map(sending.unusual.map((u) => [u.piece, u.likely]));
      const readings = draft.readings.map((text, i) => meant.get(i + 1) ?? text);
      const mended = { ...draft, readings };
      setDraft(mended);
      void enter(mended, false);
    },
    leaveOut: () => {
      const leftOut = draft.readings.flatMap((r, i) => (r.trim() === '' ? [i + 1] : []));
      const without = { ...draft, leftOut };
      setDraft(without);
      void enter(without, false);
    },
  };
}

/** What was entered, for the list of what waits. */
function inShort(draft: Draft, measured: boolean): string {
  if (measured) return draft.readings.filter((r) => r.trim() !== '').join('   ');
  if (draft.between !== '') return draft.between;
  return draft.inspected === '' ? String(counted(draft)) : `${counted(draft)} in ${draft.inspected}`;
}
