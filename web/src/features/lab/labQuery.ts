import { queryOptions } from '@tanstack/react-query';
import { answered, api } from '../../api/client';

/** Every bench with its analytes and latest runs. */
export const labQuery = queryOptions({ queryKey: ['lab'], queryFn: () => answered(api.GET('/api/lab')) });

/** One run. */
export const runQuery = (id: string) =>
  queryOptions({
    queryKey: ['lab', 'run', id],
    queryFn: () => answered(api.GET('/api/runs/{id}', { params: { path: { id } } })),
  });
