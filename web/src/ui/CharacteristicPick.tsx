import { useQuery } from '@tanstack/react-query';
import type { Kind } from '../api/client';
import { queries } from '../api/queries';
import { hiddenOne } from '../words/plan';
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
  const all = plan?.characteristics.filter(({ kind }) => kinds === null || kinds.includes(kind)) ?? [];
  // Those that are kept for looking alone come last.
  const inOrder = [...all.filter(({ hidden }) => !hidden), ...all.filter(({ hidden }) => hidden)];
  return (
    <Pick
      label={label}
      value={value}
      onPick={onPick}
      options={[
        ...(none === undefined ? [] : [['', none] as const]),
        ...inOrder.map(({ id, name, product, station, hidden }) => {
          const called = `${name}, ${product}, ${station}`;
          return [id, hidden ? hiddenOne(called) : called] as const;
        }),
      ]}
    />
  );
}
