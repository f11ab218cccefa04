import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { RoundStation } from '../../api/client';
import { queries } from '../../api/queries';

/** What was loaded ahead is good for this long. */
const FRESH_MS = 10 * 60_000;

/** What cannot be loaded now is loaded when its page is opened. */
const later = () => undefined;

/** Loads what the entries of a round show, one after another, so that it can be walked without a network. */
export function useAhead(stations: readonly RoundStation[]) {
  const client = useQueryClient();
  const inRuns = stations.some((s) => s.characteristics.some((c) => c.in_runs));
  const ids = stations.flatMap((s) => s.characteristics.map((c) => c.id)).join(' ');
  useEffect(() => {
    const ends = new AbortController();
    const load = async () => {
      await client.query({ ...queries.eventKinds, staleTime: FRESH_MS }).catch(later);
      if (inRuns) await client.query({ ...queries.lab, staleTime: FRESH_MS }).catch(later);
      for (const id of ids.split(' ')) {
        if (ends.signal.aborted || id === '') return;
        await client.query({ ...queries.entry(id), staleTime: FRESH_MS, retry: false }).catch(later);
      }
    };
    void load();
    return () => ends.abort();
  }, [client, ids, inRuns]);
}
