import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { EpisodeView } from '../../api/client';
import { isFailure } from '../../api/failure';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';

/**
 * A step in the life of an episode: done, or refused with what was typed still in place. `onDone` hears of it also when
 * the form is gone by then, since the episode no longer asks for it.
 */
export function useStep<Given>(id: string, step: (given: Given) => Promise<EpisodeView>, onDone: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (given: Given) => {
      const view = await step(given);
      onDone();
      client.setQueryData(queries.episode(id).queryKey, view);
      await touch(client, { kind: 'episode', characteristic: view.characteristic, episode: id });
    },
    onError: (error) => {
      if (isFailure(error, 'changed') || isFailure(error, 'episode_stands'))
        void client.invalidateQueries({ queryKey: queries.episode(id).queryKey });
    },
  });
}
