import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { answered, api, type LimitsChange, type LimitsView } from '../../api/client';
import { isFailure } from '../../api/failure';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';

/**
 * Changes limits, or what they rest on, as they are on the screen; who comes second is told, and sees what the first
 * did. `shown` is the version of a list that shows them beside others. Changes go one after another, so that keys may be pressed faster than the server answers.
 */
export function useLimitsChange(characteristic: string, shown = 0) {
  const client = useQueryClient();
  const { queryKey } = queries.limits(characteristic);
  const [subject, id] = queryKey;
  // What the last change led to. An answer that was on its way before it, or that news cut short, does not say so.
  const own = useRef(0);
  return useMutation({
    scope: { id: `limits ${characteristic}` },
    mutationFn: async (change: LimitsChange) => {
      const seen = client.getQueriesData<LimitsView>({ queryKey: [subject, id] });
      const version = Math.max(own.current, shown, ...seen.map(([, view]) => view?.version ?? 0));
      const changed = await answered(
        api.POST('/api/characteristics/{id}/limits/changes', {
          params: { path: { id: characteristic } },
          body: { version, ...change },
        }),
      );
      own.current = changed.version;
      // The next change is made on what this one led to; everything else is asked for beside it.
      void touch(client, { kind: 'limits', characteristic });
      await client.invalidateQueries({ queryKey: [subject, id] });
      return changed;
    },
    onError: (error) => {
      if (isFailure(error, 'changed') || isFailure(error, 'judging_again'))
        void client.invalidateQueries({ queryKey: [subject, id] });
    },
  });
}
