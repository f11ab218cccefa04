import '@fontsource-variable/source-sans-3/index.css';
import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { experimental_createQueryPersister, type PersistedQuery } from '@tanstack/query-persist-client-core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { registerSW } from 'virtual:pwa-register';
import { Failure } from './api/failure';
import { KEPT, type Subject } from './api/queries';
import { App } from './app/App';
import { nonce } from './ui/nonce';
import { lastSeen } from './device/lastSeen';
import { askAhead } from './session/session';

const styles = createCache({ key: 'nv', nonce });

const KEPT_DAYS = 7;

const seen = experimental_createQueryPersister<unknown>({
  storage: lastSeen,
  // IndexedDB takes objects as they are.
  serialize: (query) => query,
  deserialize: (query) => query as PersistedQuery,
  // It stands in for the server's answer, and never for asking: news that came before it was there are lost on it.
  refetchOnRestore: 'always',
  maxAge: KEPT_DAYS * 24 * 3600_000,
  // What an older program kept may lack what this one draws.
  buster: 'notes',
  filters: { predicate: (query) => KEPT[query.queryKey[0] as Subject] },
});
void seen.persisterGc();

const client = new QueryClient({
  defaultOptions: {
    queries: {
      // Whether there is a network is found out by trying: the server may stand on this very machine.
      networkMode: 'always',
      persister: seen.persisterFn,
      staleTime: 30_000,
      // A refusal stays a refusal; a server that is away may come back.
      retry: (failures, error) =>
        !(error instanceof Failure && error.status >= 400 && error.status < 500) && failures < 2,
    },
    mutations: { networkMode: 'always' },
  },
});

/** What is asked for first is mostly there by now; who waits longer than this is told so. */
const SHOWN_AFTER_MS = 150;

/** What is fetched ahead, for when there is no network, stays out of the way of what is on the screen first. */
const FETCHED_AHEAD_AFTER_MS = 2000;

async function start(root: HTMLElement) {
  const asked = askAhead(client, location.pathname);
  await Promise.race([asked, new Promise((waited) => setTimeout(waited, SHOWN_AFTER_MS))]);
  createRoot(root).render(
    <StrictMode>
      <CacheProvider value={styles}>
        <QueryClientProvider client={client}>
          <BrowserRouter>
            <App />
          </BrowserRouter>
        </QueryClientProvider>
      </CacheProvider>
    </StrictMode>,
  );
  setTimeout(() => registerSW({ immediate: true }), FETCHED_AHEAD_AFTER_MS);
}

const root = document.getElementById('root');
if (root) void start(root);
