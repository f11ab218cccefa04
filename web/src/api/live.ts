import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { putPoint } from './added';
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
  [...again, ...touched(news, fits)].forEach((key) => gathered.ask(key));
}

/** The page is drawn first: what it asked for before the stream stands is asked for again then. */
const DRAWN_FIRST_MS = 300;

/** Keeps everything on the screen as the server has it; tells whether the stream stands. */
export function useLive(signedIn: boolean): boolean {
  const client = useQueryClient();
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    if (!signedIn) return;
    const gathered = new Gathered(client);
    let source: EventSource | undefined;
    const connect = () => {
      const stream = new EventSource('/api/live');
      source = stream;
      stream.addEventListener('news', (event: MessageEvent<string>) =>
        refresh(client, gathered, JSON.parse(event.data) as LiveNews),
      );
      stream.addEventListener('resync', () => {
        setConnected(true);
        void client.invalidateQueries();
      });
      stream.onerror = () => {
        setConnected(false);
        // The browser tries again by itself after a lost connection, but not after a refusal.
        if (stream.readyState === EventSource.CLOSED) retry = window.setTimeout(connect, RETRY_MS);
      };
    };
    let retry = window.setTimeout(connect, DRAWN_FIRST_MS);
    return () => {
      window.clearTimeout(retry);
      source?.close();
      gathered.stop();
    };
  }, [client, signedIn]);
  return connected;
}
