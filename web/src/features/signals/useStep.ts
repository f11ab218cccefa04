import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { SignalView } from '../../api/client';
import { isFailure } from '../../api/failure';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';

/** A step in the life of a signal: done, or refused with what was typed still in place. */
export function useStep(id: string) {
  const client = useQueryClient();
  const [failure, setFailure] = useState<unknown>(null);
  const take = async (step: () => Promise<SignalView>): Promise<boolean> => {
    setFailure(null);
    try {
      const view = await step();
      client.setQueryData(queries.signal(id).queryKey, view);
      await touch(client, { kind: 'signal', characteristic: view.characteristic, signal: id });
      return true;
    } catch (error) {
      setFailure(error);
      if (isFailure(error, 'changed') || isFailure(error, 'signal_stands')) void client.invalidateQueries({ queryKey: queries.signal(id).queryKey });
      return false;
    }
  };
  return { failure, take };
}
