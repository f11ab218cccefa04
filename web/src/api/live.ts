import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { News } from './client';

/** How long to wait before connecting again after the server has refused the stream. */
const RETRY_MS = 2000;

function refresh(client: QueryClient, news: News) {
  const keys: unknown[][] = [['trail'], 'characteristic' in news ? ['chart', news.characteristic] : ['chart']];
  if (news.kind === 'station' || news.kind === 'plan') keys.push(['rounds']);
  if (news.kind === 'sample') keys.push(['rounds'], ['signals'], ['signal']);
  if (news.kind === 'run' || news.kind === 'plan') keys.push(['lab']);
  if (news.kind === 'signal') keys.push(['rounds'], ['signals'], ['signal', news.signal]);
  for (const queryKey of keys) void client.invalidateQueries({ queryKey });
}

/** Keeps everything on the screen as the server has it; tells whether the stream stands. */
export function useLive(signedIn: boolean): boolean {
  const client = useQueryClient();
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    if (!signedIn) return;
    let source: EventSource;
    let retry: number | undefined;
    const connect = () => {
      source = new EventSource('/api/live');
      source.addEventListener('news', (event: MessageEvent<string>) => refresh(client, JSON.parse(event.data) as News));
      source.addEventListener('resync', () => {
        setConnected(true);
        void client.invalidateQueries();
      });
      source.onerror = () => {
        setConnected(false);
        // The browser tries again by itself after a lost connection, but not after a refusal.
        if (source.readyState === EventSource.CLOSED) retry = window.setTimeout(connect, RETRY_MS);
      };
    };
    connect();
    return () => {
      window.clearTimeout(retry);
      source.close();
    };
  }, [client, signedIn]);
  return connected;
}
