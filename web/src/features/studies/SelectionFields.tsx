import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Selection } from '../../api/client';
import { queries } from '../../api/queries';
import { DayPick } from '../../ui/DayPick';
import { Pick } from '../../ui/Pick';
import type { Address } from '../../ui/useAddress';
import { ASK } from '../../words/studies';
import { tagParam } from './address';

const LASTS = [50, 100, 200, 500, 2000] as const;

/** Which samples: the address, or a nested one, holds it. */
export function SelectionFields({ of, address }: { of: Selection; address: Address }) {
  const { params, put } = address;
  const tags = useQuery(queries.tags(of.characteristic)).data ?? {};
  const phases = useQuery(queries.limits(of.characteristic)).data?.phases ?? [];
  const byTime = params.get('after') ?? params.get('until');
  const which = of.phase ?? (of.last != null ? String(of.last) : byTime !== null ? 'time' : 'all');
  const [time, setTime] = useState(byTime !== null);
  const narrow = (changes: Record<string, string | null>) =>
    put({ phase: null, last: null, after: null, until: null, ...changes });
  return (
    <>
      <Pick
        label={ASK.samples}
        value={time ? 'time' : which}
        onPick={(value) => {
          setTime(value === 'time');
          if (value === 'all') narrow({});
          else if (/^\d+$/.test(value)) narrow({ last: value });
          else if (value !== 'time') narrow({ phase: value });
        }}
        options={[
          ['all', ASK.all],
          ...LASTS.map((last) => [String(last), ASK.last(last)] as const),
          ...phases.map(({ id, name }) => [id, ASK.phase(name)] as const),
          ['time', ASK.after],
        ]}
      />
      {time && (
        <>
          <DayPick
            label={ASK.after}
            value={params.get('after') ?? ''}
            onPick={(day) => narrow({ after: day, until: params.get('until') })}
          />
          <DayPick
            label={ASK.until}
            value={params.get('until') ?? ''}
            onPick={(day) => narrow({ after: params.get('after'), until: day })}
          />
        </>
      )}
      {Object.entries(tags).map(([name, values]) => (
        <Pick
          key={name}
          label={ASK.tag(name)}
          value={params.get(tagParam(name)) ?? ''}
          onPick={(value) => put({ [tagParam(name)]: value })}
          options={[['', ASK.anyValue], ...values.map((value) => [value, value] as const)]}
        />
      ))}
      <Pick
        label={ASK.setAside}
        value={of.set_aside ? '1' : ''}
        onPick={(value) => put({ aside: value })}
        options={[
          ['', ASK.without],
          ['1', ASK.with],
        ]}
      />
    </>
  );
}
