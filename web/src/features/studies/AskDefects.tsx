import type { Question } from '../../api/client';
import { Pick } from '../../ui/Pick';
import type { Address } from '../../ui/useAddress';
import { DEFECTS } from '../../words/defects';
import { nested, nestedAs, selectionIn } from './address';
import { AskFrame, OfWhich, Said } from './AskFrame';
import { SelectionFields } from './SelectionFields';
import { SplitPick } from './SplitPick';
import { useNested } from './useNested';

const POOLS = ['2', '5', '10', '20'] as const;

type Asked = Extract<Question, { sort: 'defects' }>;

/** The question of defects by kind; and against which other samples. */
export function AskDefects({ question, address }: { question: Asked; address: Address }) {
  const { params, put } = address;
  const { of } = question;
  const [than] = nested(params, 'than');
  const other = useNested(address, 'than', 0);
  const against = than && selectionIn(new URLSearchParams([...than, ['of', of.characteristic]]));
  return (
    <>
      <AskFrame
        sentence={
          <>
            <Said>{DEFECTS.which}</Said>
            <OfWhich of={of.characteristic} kinds={['nonconforming_units', 'nonconformities']} address={address} />
            <Said>{DEFECTS.have}</Said>
          </>
        }
      >
        <SelectionFields of={of} address={address} />
        <SplitPick of={of.characteristic} address={address} />
        <Pick
          label={DEFECTS.pool}
          value={params.get('pool') ?? ''}
          onPick={(value) => put({ pool: value })}
          options={[['', DEFECTS.poolNone], ...POOLS.map((p) => [p, DEFECTS.poolBelow(p)] as const)]}
        />
        <Pick
          label={DEFECTS.against}
          value={than === undefined ? '' : '1'}
          onPick={(value) => put(nestedAs(params, 'than', value === '' ? [] : [new URLSearchParams('last=50')]))}
          options={[
            ['', DEFECTS.againstNone],
            ['1', DEFECTS.againstOthers],
          ]}
        />
      </AskFrame>
      {against && (
        <AskFrame label={DEFECTS.othersTitle} sentence={<Said>{DEFECTS.othersTitle}</Said>}>
          <SelectionFields of={against} address={other} />
        </AskFrame>
      )}
    </>
  );
}
