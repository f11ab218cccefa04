import { answered, api, type EpisodeView, type RunView, type Saved } from '../api/client';
import { Failure } from '../api/failure';
import { type ChosenFile, contentOf, forgetFile } from '../device/files';
import type { Deed } from './store';

/** What the server made of an entry; of an event or a count of pieces nothing is shown. */
export interface Sent {
  saved?: Saved;
  run?: RunView;
  episode?: EpisodeView;
}

/** What became of an entry. */
export type Outcome =
  | ({ kind: 'saved' } & Sent)
  | { kind: 'refused'; failure: Failure }
  /** Kept on the device; it goes through when the server is back, or the person is. */
  | { kind: 'waiting'; failure: Failure };

/** A server that has not answered by then counts as away; the entry is sent again. */
const ANSWER_MS = 8000;

/** A photo takes longer over a weak network. */
const FILE_MS = 60_000;

/** Sends the files of an answer; those that the server has already are not on the device any more. */
async function sendFiles(files: readonly ChosenFile[]): Promise<void> {
  for (const { id, name } of files) {
    const content = await contentOf(id);
    if (!content) continue;
    await answered(
      api.PUT('/api/files/{id}', {
        params: { path: { id }, query: { name } },
        // The description knows bytes as a list of numbers.
        body: content as unknown as number[],
        bodySerializer: (body) => body,
        headers: { 'Content-Type': 'application/octet-stream' },
        signal: AbortSignal.timeout(FILE_MS),
      }),
    );
    await forgetFile(id);
  }
}

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
      };
    case 'run':
      return {
        run: await answered(
          api.POST('/api/stations/{id}/runs', { params: { path }, body: { ...deed.body, taken_at: time }, signal }),
        ),
      };
    case 'pieces':
      await answered(
        api.POST('/api/stations/{id}/pieces', { params: { path }, body: { ...deed.body, at: time }, signal }),
      );
      return {};
    case 'answer':
      await sendFiles(deed.files);
      return {
        episode: await answered(
          api.POST('/api/episodes/{id}/answers', {
            params: { path: { id: deed.episode } },
            body: { ...deed.body, files: deed.files.map(({ id }) => id), at: time },
            signal: AbortSignal.timeout(ANSWER_MS),
          }),
        ),
      };
    case 'addition':
      await sendFiles(deed.files);
      return {
        episode: await answered(
          api.POST('/api/episodes/{id}/additions', {
            params: { path: { id: deed.episode } },
            body: { ...deed.body, files: deed.files.map(({ id }) => id), at: time },
            signal: AbortSignal.timeout(ANSWER_MS),
          }),
        ),
      };
    case 'event':
      await answered(
        api.POST('/api/stations/{id}/events', { params: { path }, body: { ...deed.body, at: time }, signal }),
      );
      return {};
  }
}

/** Whatever was thrown, as a failure. */
export function asFailure(error: unknown): Failure {
  return error instanceof Failure ? error : new Failure({ code: 'unknown', params: {} });
}
