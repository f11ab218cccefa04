import { useQueryClient } from '@tanstack/react-query';
import { POINTS_AT_MOST, queries } from '../../api/queries';

type SampleByNumber = (typed: string) => string | undefined;

/** Asks for the samples behind typed numbers: points still on their way are no missing samples. */
export function useSampleByNumber(characteristic: string): () => Promise<SampleByNumber> {
  const client = useQueryClient();
  return async () => {
    const { points } = await client.query(queries.chart(characteristic, { last: POINTS_AT_MOST }));
    return (typed) => points.find((point) => String(point.number) === typed.trim())?.sample;
  };
}
