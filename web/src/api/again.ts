import type { QueryClient } from '@tanstack/react-query';
import type { Key } from './queries';

/**
 * Asks again for all that begins with the key, or for everything. What is asked for the first time just now is asked for
 * once more when it is answered, since the answer may be older than what has changed meanwhile.
 */
export async function askAgain(client: QueryClient, queryKey?: Key): Promise<void> {
  const filters = queryKey && { queryKey };
  const first = client
    .getQueryCache()
    .findAll({ ...filters, fetchStatus: 'fetching', predicate: ({ state }) => state.data === undefined })
    .map((query) => query.queryKey);
  await client.invalidateQueries(filters);
  await Promise.all(first.map((queryKey) => client.invalidateQueries({ queryKey, exact: true })));
}

/** Asks again for what could not be answered: a page that missed no news while the network was away may have missed answers. */
export function askFailedAgain(client: QueryClient): Promise<void> {
  return client.invalidateQueries({ predicate: ({ state }) => state.status === 'error' });
}
