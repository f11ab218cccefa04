import { queryOptions } from '@tanstack/react-query';
import { answered, api } from '../../api/client';

/** Everything that is set up. */
export const planQuery = queryOptions({ queryKey: ['plan'], queryFn: () => answered(api.GET('/api/plan')) });
