import { useQuery, useQueryClient } from '@tanstack/react-query';
import { EventSourceParserStream } from 'eventsource-parser/stream';
import { useEffect } from 'react';
import { answered, api } from '../../api/client';
import type { Key } from '../../api/queries';
import { hangClock } from '../../words/time';

/** A display looks again this often, so that what falls due shows without anybody acting. */
export const WALL_AGAIN_MS = 30_000;
/** However much happens, a display asks no oftener. */
const AT_MOST_EVERY_MS = 2000;
/** How long to wait before connecting again. */
const RETRY_MS = 3000;

const bearer = (token: string) => ({ authorization: `Bearer ${token}` });

/** Calls `onChange` whenever the server says that something has changed; until the stream ends or is given up. */
async function listen(token: string, signal: AbortSignal, onChange: () => void) {
  // An event source of the browser's own shows no token.
  const response = await fetch('/api/wall/live', { headers: bearer(token), signal });
  if (!response.ok || !response.body) return;
  const events = response.body.pipeThrough(new TextDecoderStream()).pipeThrough(new EventSourceParserStream());
  for (const reader = events.getReader(); ;) {
    const { done, value } = await reader.read();
    if (done) return;
    if (value.event === 'changed') onChange();
  }
}

/** What a display shows, kept as the server has it. */
export function useWall(token: string) {
  const client = useQueryClient();
  const key: Key = ['wall', token];
  const query = useQuery({
    queryKey: key,
    queryFn: async () => {
      const wall = await answered(api.GET('/api/wall', { headers: bearer(token) }));
      // Before anything is drawn of it.
      hangClock(wall.time_zone);
      return wall;
    },
    refetchInterval: WALL_AGAIN_MS,
    // Nobody has the focus of a display.
    refetchIntervalInBackground: true,
  });
  useEffect(() => {
    const gone = new AbortController();
    let again: number | undefined;
    let asked = 0;
    const look = () => {
      if (again !== undefined || gone.signal.aborted) return;
      again = window.setTimeout(
        () => {
          again = undefined;
          asked = Date.now();
          void client.invalidateQueries({ queryKey: ['wall', token] });
        },
        Math.max(0, asked + AT_MOST_EVERY_MS - Date.now()),
      );
    };
    const keepListening = async () => {
      while (!gone.signal.aborted) {
        await listen(token, gone.signal, look).catch(() => undefined);
        // Lost, or ended since the display was revoked: which of them, the next answer says.
        look();
        await new Promise((resolve) => window.setTimeout(resolve, RETRY_MS));
      }
    };
    void keepListening();
    return () => {
      gone.abort();
      window.clearTimeout(again);
    };
  }, [client, token]);
  return query;
}
