import { useQuery } from '@tanstack/react-query';
import { queries } from '../../api/queries';
import { Pick } from '../../ui/Pick';
import type { Address } from '../../ui/useAddress';
import { ASK } from '../../words/studies';
import { tagParam } from './address';

/** What samples are told apart by. */
export function SplitPick({ of, address: { params, put } }: { of: string; address: Address }) {
  const tags = useQuery(queries.tags(of)).data ?? {};
  const { none, ...times } = ASK.splits;
  return (
    <Pick
      label={ASK.split}
      value={params.get('by') ?? ''}
      onPick={(value) => put({ by: value })}
      options={[
        ['', none],
        ...Object.entries(times),
        ...Object.keys(tags).map((name) => [tagParam(name), ASK.splitTag(name)] as const),
      ]}
    />
  );
}
