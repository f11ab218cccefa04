import { useQuery } from '@tanstack/react-query';
import type { Question } from '../../api/client';
import { queries } from '../../api/queries';
import { Pick } from '../../ui/Pick';
import type { Address } from '../../ui/useAddress';
import { COLUMNS_OF, OVER_TIME } from '../../words/overTime';
import { AskFrame, OfWhich, Said } from './AskFrame';
import { measureOf } from './questions';
import { SelectionFields } from './SelectionFields';

type Asked = Extract<Question, { sort: 'over_time' }>;

const SIGMAS = ['1.5', '2', '2.5', '3', '3.5', '4'] as const;

/** What is summed up, how, over how long. */
export function AskOverTime({ question, address }: { question: Asked; address: Address }) {
  const { params, put } = address;
  const { of, measure, summary, per } = question;
  const kind = useQuery(queries.plan).data?.characteristics.find(({ id }) => id === of.characteristic)?.kind;
  const tags = useQuery(queries.tags(of.characteristic)).data ?? {};
  const numeric = Object.entries(tags).filter(([, values]) =>
    values.some((value) => value.trim() !== '' && !Number.isNaN(Number(value))),
  );
  const columns = kind ? COLUMNS_OF[kind] : [];
  return (
    <AskFrame
      sentence={
        <>
          <Said>{OVER_TIME.how}</Said>
          <Pick
            label={OVER_TIME.sum}
            value={summary}
            onPick={(sum) => put({ sum })}
            options={Object.entries(OVER_TIME.sums)}
          />
          <Said>{OVER_TIME.of}</Said>
          <Pick
            label={OVER_TIME.what}
            value={measureOf(measure)}
            onPick={(what) => put({ what })}
            options={[
              ...columns.map((column) => [column, OVER_TIME.columns[column]] as const),
              ...numeric.map(([name]) => [`tag:${name}`, OVER_TIME.tag(name)] as const),
            ]}
          />
          <Said>{OVER_TIME.from}</Said>
          <OfWhich of={of.characteristic} kinds={null} address={address} />
          <Said>{OVER_TIME.goes}</Said>
          <Pick
            label={OVER_TIME.per}
            value={per}
            onPick={(value) => put({ per: value })}
            options={Object.entries(OVER_TIME.spans)}
          />
        </>
      }
    >
      <SelectionFields of={of} address={address} />
      <Pick
        label={OVER_TIME.k}
        value={params.get('k') ?? '3'}
        onPick={(k) => put({ k: k === '3' ? null : k })}
        options={SIGMAS.map((k) => [k, OVER_TIME.sigma(k)] as const)}
      />
    </AskFrame>
  );
}
