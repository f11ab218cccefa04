import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Failure, type SignalView } from '../../api/client';

/** A step in the life of a signal: done, or refused with what was typed still in place. */
export function useStep(id: string) {
  const client = useQueryClient();
  const [failure, setFailure] = useState<unknown>(null);
  const take = async (step: () => Promise<SignalView>): Promise<boolean> => {
    setFailure(null);
    try {
      client.setQueryData(['signal', id], await step());
      await client.invalidateQueries({ queryKey: ['signals'] });
      void client.invalidateQueries({ queryKey: ['chart'] });
      void client.invalidateQueries({ queryKey: ['rounds'] });
      return true;
    } catch (error) {
      setFailure(error);
      if (error instanceof Failure && error.code === 'changed') void client.invalidateQueries({ queryKey: ['signal', id] });
      return false;
    }
  };
  return { failure, take };
}
