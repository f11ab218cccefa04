import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api, type LimitsChange } from '../../api/client';
import { isFailure } from '../../api/failure';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';

/** Changes limits, or what they rest on, as they were seen; who comes second is told, and sees what the first did. */
export function useLimitsChange(characteristic: string, version: number | undefined) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (change: LimitsChange) => {
      const changed = await answered(
        api.POST('/api/characteristics/{id}/limits/changes', {
          params: { path: { id: characteristic } },
          body: { version: version ?? 0, ...change },
        }),
      );
      await touch(client, { kind: 'limits', characteristic });
      return changed;
    },
    onError: (error) => {
      if (isFailure(error, 'changed') || isFailure(error, 'judging_again'))
        void client.invalidateQueries({ queryKey: queries.limits(characteristic).queryKey });
    },
  });
}
