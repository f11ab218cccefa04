import { Box } from '@mui/material';
import type { Question } from '../../api/client';
import { Pick } from '../../ui/Pick';
import type { Address } from '../../ui/useAddress';
import { ASK, familyName } from '../../words/studies';
import { AskFrame, OfWhich, Said } from './AskFrame';
import { PARAMETERS } from './questions';
import { SelectionFields } from './SelectionFields';
import { SplitPick } from './SplitPick';
import { Typed } from './Typed';

const FAMILIES = (Object.keys(PARAMETERS) as (keyof typeof PARAMETERS)[]).filter((name) => !name.endsWith('3'));
export const BARS = [5, 8, 10, 12, 15, 20, 30, 50] as const;

type Asked = Extract<Question, { sort: 'capability' }>;

/** The question of capability as a sentence whose parts are chosen; the address holds it. */
export function AskCapability({ question, address }: { question: Asked; address: Address }) {
  const { params, put } = address;
  const { of } = question;
  return (
    <AskFrame
      sentence={
        <>
          <Said>{ASK.is}</Said>
          <OfWhich of={of.characteristic} kinds={['measured']} address={address} />
          <Said>{ASK.able}</Said>
        </>
      }
    >
      <SelectionFields of={of} address={address} />
      <Pick
        label={ASK.values}
        value={question.distribution ?? 'normal'}
        onPick={(value) => put({ as: value === 'normal' ? null : value })}
        options={[...FAMILIES.map((family) => [family, familyName(family)] as const), ['auto', ASK.auto]]}
      />
      <BarsPick address={address} />
      <SplitPick of={of.characteristic} address={address} />
      <Box sx={{ display: 'flex', gap: 1, minWidth: 0, flexWrap: 'wrap' }}>
        {(['lsl', 'target', 'usl', 'able', 'barely'] as const).map((limit) => (
          <Typed
            key={limit}
            label={ASK[limit === 'able' ? 'ableFrom' : limit === 'barely' ? 'barelyFrom' : limit]}
            value={params.get(limit) ?? ''}
            placeholder={ASK.ownSpec}
            onTyped={(value) => put({ [limit]: value })}
          />
        ))}
      </Box>
    </AskFrame>
  );
}

/** How many bars the values are drawn in. */
export function BarsPick({ address: { params, put } }: { address: Address }) {
  return (
    <Pick
      label={ASK.bars}
      value={params.get('bars') ?? ''}
      onPick={(value) => put({ bars: value })}
      options={[['', ASK.barsAuto], ...BARS.map((bars) => [String(bars), String(bars)] as const)]}
    />
  );
}
