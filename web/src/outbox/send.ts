import { answered, api, type RunView, type Saved } from '../api/client';
import { Failure } from '../api/failure';
import type { Deed } from './store';

/** What the server made of an entry; of an event or a count of pieces nothing is shown. */
export interface Sent {
  saved: Saved | null;
  run: RunView | null;
}

/** What became of an entry. */
export type Outcome =
  | ({ kind: 'saved' } & Sent)
  | { kind: 'refused'; failure: Failure }
  /** Kept on the device; it goes through when the server is back, or the person is. */
  | { kind: 'waiting'; failure: Failure };

/** A server that has not answered by then counts as away; the entry is sent again. */
const ANSWER_MS = 8000;

/** Sends one entry; without a time the server's clock counts. */
export async function send(deed: Deed, time: string | null): Promise<Sent> {
  const path = { id: deed.target };
  const signal = AbortSignal.timeout(ANSWER_MS);
  switch (deed.what) {
    case 'sample':
      return {
        saved: await answered(
          api.POST('/api/characteristics/{id}/samples', {
            params: { path },
            body: { ...deed.body, taken_at: time },
            signal,
          }),
        ),
        run: null,
      };
    case 'gap':
      return {
        saved: await answered(
          api.POST('/api/characteristics/{id}/gaps', {
            params: { path },
            body: { ...deed.body, taken_at: time },
            signal,
          }),
        ),
        run: null,
      };
    case 'run':
      return {
        saved: null,
        run: await answered(
          api.POST('/api/stations/{id}/runs', { params: { path }, body: { ...deed.body, taken_at: time }, signal }),
        ),
      };
    case 'pieces':
      await answered(
        api.POST('/api/stations/{id}/pieces', { params: { path }, body: { ...deed.body, at: time }, signal }),
      );
      return { saved: null, run: null };
    case 'event':
      await answered(
        api.POST('/api/stations/{id}/events', { params: { path }, body: { ...deed.body, at: time }, signal }),
      );
      return { saved: null, run: null };
  }
}

/** Whatever was thrown, as a failure. */
export function asFailure(error: unknown): Failure {
  return error instanceof Failure ? error : new Failure({ code: 'unknown', params: {} });
}
