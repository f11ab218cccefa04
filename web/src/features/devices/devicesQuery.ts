import { queryOptions } from '@tanstack/react-query';
import { answered, api } from '../../api/client';

/** Devices speak all the time; how they stand is asked for again this often. */
const AGAIN_MS = 5000;

export const devicesQuery = queryOptions({
  queryKey: ['devices'],
  queryFn: () => answered(api.GET('/api/plan/devices')),
  refetchInterval: AGAIN_MS,
});

/** Results of an analyser that wait at a station. */
export const offersQuery = (station: string) =>
  queryOptions({
    queryKey: ['offers', station],
    queryFn: () => answered(api.GET('/api/stations/{id}/offers', { params: { path: { id: station } } })),
  });
