import { useQuery } from '@tanstack/react-query';
import type { Kind } from '../api/client';
import { queries } from '../api/queries';
import { Pick } from './Pick';

/** One of the characteristics of some kinds; of all where none is named. */
export function CharacteristicPick({
  label,
  value,
  kinds,
  none,
  onPick,
}: {
  label: string;
  value: string;
  kinds: readonly Kind[] | null;
  /** What is said where none is meant, if none may be. */
  none?: string;
  onPick: (id: string) => void;
}) {
  const plan = useQuery(queries.plan).data;
  const all = plan?.characteristics.filter(({ kind, hidden }) => !hidden && (kinds === null || kinds.includes(kind)));
  return (
    <Pick
      label={label}
      value={value}
      onPick={onPick}
      options={[
        ...(none === undefined ? [] : [['', none] as const]),
        ...(all ?? []).map(({ id, name, product, station }) => [id, `${name}, ${product}, ${station}`] as const),
      ]}
    />
  );
}
