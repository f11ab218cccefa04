import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api, type Characteristic, type CharacteristicView } from '../../api/client';
import { touch } from '../../api/touches';

/** Keeps scales with the set-up of a characteristic, as it was seen: who comes second is told. */
export function useKeepScales(of: CharacteristicView, onKept: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (scales: Characteristic['scales']) => {
      const { id, version } = of;
      await answered(api.POST('/api/plan/changes', { body: [{ id, version, characteristic: { ...of, scales } }] }));
      await touch(client, { kind: 'plan' });
    },
    onSuccess: onKept,
  });
}
