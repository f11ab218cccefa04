import { queryOptions } from '@tanstack/react-query';
import { answered, api } from '../../api/client';

/** Every signal that waits for an answer. */
export const openSignals = queryOptions({
  queryKey: ['signals', 'open'],
  queryFn: () => answered(api.GET('/api/signals', { params: { query: { state: 'open' } } })),
});
