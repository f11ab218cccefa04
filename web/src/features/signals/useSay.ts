import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { EpisodeView } from '../../api/client';
import { isFailure } from '../../api/failure';
import { queries } from '../../api/queries';
import { useOutbox } from '../../outbox/Outbox';
import type { Deed } from '../../outbox/store';
import { usePerson } from '../../session/session';

type Said = Extract<Deed, { what: 'answer' | 'addition' }>;

/** Says something of an episode: it is safe on the device before it is sent, and waits there while the server is away. */
export function useSay({ id, name }: EpisodeView, onSaid: () => void) {
  const client = useQueryClient();
  const { submit } = useOutbox();
  return useMutation({
    mutationFn: async (deed: Said) => {
      const outcome = await submit(deed, name);
      if (outcome.kind === 'refused') throw outcome.failure;
      if (outcome.kind === 'saved' && outcome.episode)
        client.setQueryData(queries.episode(id).queryKey, outcome.episode);
    },
    // Also when the form is gone by then: what is on its way is not asked again.
    onSuccess: onSaid,
    onError: (error) => {
      if (isFailure(error, 'changed') || isFailure(error, 'episode_stands'))
        void client.invalidateQueries({ queryKey: queries.episode(id).queryKey });
    },
  });
}

/** Whether this person's answer to an episode is still on its way. */
export function useAnswerWaits(episode: string): boolean {
  const { waiting } = useOutbox();
  const person = usePerson();
  return waiting.some(
    ({ deed, person: of, refused }) =>
      deed.what === 'answer' && deed.episode === episode && of === person.id && refused === null,
  );
}
