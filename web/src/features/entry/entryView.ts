import { queryOptions } from '@tanstack/react-query';
import { answered, api } from '../../api/client';

/** Points beside the entry: enough to see a pattern, few enough to see each. */
const SHOWN = 40;

/** What the entry of a characteristic shows. */
export const entryView = (id: string) =>
  queryOptions({
    queryKey: ['chart', id, 'entry'],
    queryFn: () => answered(api.GET('/api/characteristics/{id}/chart', { params: { path: { id }, query: { last: SHOWN } } })),
  });
