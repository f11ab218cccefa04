import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { SignalView } from '../../api/client';
import { isFailure } from '../../api/failure';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';

/** A step in the life of a signal: done, or refused with what was typed still in place. */
export function useStep<Given>(id: string, step: (given: Given) => Promise<SignalView>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (given: Given) => {
      const view = await step(given);
      client.setQueryData(queries.signal(id).queryKey, view);
      await touch(client, { kind: 'signal', characteristic: view.characteristic, signal: id });
    },
    onError: (error) => {
      if (isFailure(error, 'changed') || isFailure(error, 'signal_stands'))
        void client.invalidateQueries({ queryKey: queries.signal(id).queryKey });
    },
  });
}
