import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { answered, api, type CauseTreeView } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Edits, type Seen } from './edits';

export type TreeEdits = Seen & Pick<Edits, 'put' | 'remove' | 'settle'>;

/** A tree that is edited at once and kept a moment later, while others edit it, too. */
export function useTree(tree: CauseTreeView): TreeEdits {
  const client = useQueryClient();
  const [edits] = useState(() => {
    const path = { id: tree.id };
    return new Edits(tree.ideas, {
      send: (body) => answered(api.POST('/api/cause-trees/{id}/ideas', { params: { path }, body })),
      ask: async () => {
        await touch(client, { kind: 'cause_tree', tree: tree.id });
        return client.getQueryData(queries.causeTree(tree.id).queryKey)?.ideas;
      },
    });
  });
  useEffect(() => edits.learn(tree.ideas), [edits, tree.ideas]);
  const seen = useSyncExternalStore(edits.subscribe, edits.seen);
  return { ...seen, put: edits.put, remove: edits.remove, settle: edits.settle };
}
