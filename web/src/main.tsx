import '@fontsource-variable/source-sans-3/index.css';
import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { Failure } from './api/client';
import { App } from './app/App';
import { nonce } from './app/nonce';

const styles = createCache({ key: 'nv', nonce });

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      // A refusal stays a refusal; a server that is away may come back.
      retry: (failures, error) => !(error instanceof Failure && error.status >= 400 && error.status < 500) && failures < 2,
    },
  },
});

const root = document.getElementById('root');
if (root) {
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
}
