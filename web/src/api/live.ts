import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { putPoint } from './added';
import { askAgain, askFailedAgain } from './again';
import { knownByAll } from './ahead';
import type { LiveNews } from './client';
import { Gathered } from './gathered';
import { touched } from './touches';

type OfferNews = Extract<LiveNews, { kind: 'offer' }>;

const offered = new Set<(news: OfferNews) => void>();

/** Calls `listener` whenever a device offers a value. */
export function onOffer(listener: (news: OfferNews) => void): () => void {
  offered.add(listener);
  return () => offered.delete(listener);
}

/** How long to wait before connecting again after the server has refused the stream. */
const RETRY_MS = 2000;

function refresh(client: QueryClient, gathered: Gathered, news: LiveNews) {
  if (news.kind === 'offer') offered.forEach((listener) => listener(news));
  // The point comes along: it is on the screen before anything is asked.
  const { point } = news;
  const fits = news.kind === 'sample' && point != null;
  const again = fits ? putPoint(client, news.characteristic, point) : [];
  again.forEach((key) => gathered.ask(key));
  touched(news, fits).forEach((key) => gathered.ask(key, fits));
}

/** The page is drawn first: news of what has changed meanwhile come when the stream stands. */
const DRAWN_FIRST_MS = 300;

/** The number of what was told last; what is asked for later knows it. */
let heard: number | undefined;

/** Keeps everything on the screen as the server has it; tells whether the stream stands. */
export function useLive(signedIn: boolean): boolean {
  const client = useQueryClient();
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    if (!signedIn) return;
    const gathered = new Gathered(client);
    let source: EventSource | undefined;
    let stopped = false;
    const connect = async () => {
      const since = heard ?? (await knownByAll());
      if (stopped) return;
      const stream = new EventSource(since === undefined ? '/api/live' : `/api/live?since=${since}`);
      source = stream;
      const on = (name: string, listener: (data: string) => void) =>
        stream.addEventListener(name, ({ data, lastEventId }: MessageEvent<string>) => {
          heard = Number(lastEventId);
          listener(data);
        });
      on('news', (data) => refresh(client, gathered, JSON.parse(data) as LiveNews));
      on('standing', () => {
        setConnected(true);
        void askFailedAgain(client);
      });
      on('resync', () => {
        setConnected(true);
        void askAgain(client);
      });
      stream.onerror = () => {
        setConnected(false);
        // The browser tries again by itself after a lost connection, but not after a refusal.
        if (stream.readyState === EventSource.CLOSED) again(RETRY_MS);
      };
    };
    let retry = 0;
    const again = (after: number) => (retry = window.setTimeout(() => void connect(), after));
    again(DRAWN_FIRST_MS);
    return () => {
      stopped = true;
      window.clearTimeout(retry);
      source?.close();
      gathered.stop();
    };
  }, [client, signedIn]);
  return connected;
}
