import { Box } from '@mui/material';
import type { Question } from '../../api/client';
import { Pick } from '../../ui/Pick';
import type { Address } from '../../ui/useAddress';
import { DISTRIBUTION } from '../../words/distribution';
import { ASK, familyName } from '../../words/studies';
import { BarsPick } from './AskCapability';
import { AskFrame, OfWhich, Said } from './AskFrame';
import { PARAMETERS } from './questions';
import { SelectionFields } from './SelectionFields';
import { Typed } from './Typed';

const FAMILIES = Object.keys(PARAMETERS) as (keyof typeof PARAMETERS)[];
const DRAWN = [30, 100, 300, 1000] as const;

type Asked = Extract<Question, { sort: 'distribution' }>;

/** The question of distribution: which samples, which values of them, which family. */
export function AskDistribution({ question, address }: { question: Asked; address: Address }) {
  const { params, put } = address;
  const { of, taken } = question;
  const family = FAMILIES.find((name) => name === params.get('as'));
  const none = Object.fromEntries([...params.keys()].filter((name) => name.startsWith('p.')).map((p) => [p, null]));
  return (
    <AskFrame
      sentence={
        <>
          <Said>{DISTRIBUTION.which}</Said>
          <OfWhich of={of.characteristic} kinds={['measured']} address={address} />
          <Said>{DISTRIBUTION.follow}</Said>
        </>
      }
    >
      <SelectionFields of={of} address={address} />
      <Pick
        label={DISTRIBUTION.taken}
        value={family ?? ''}
        onPick={(value) => put({ ...none, as: value })}
        options={[['', ASK.auto], ...FAMILIES.map((name) => [name, familyName(name)] as const)]}
      />
      {family !== undefined && (
        <Box sx={{ display: 'flex', gap: 1, minWidth: 0, flexWrap: 'wrap' }}>
          {PARAMETERS[family].map((name) => (
            <Typed
              key={`${family} ${name}`}
              label={DISTRIBUTION.parameters[name]}
              value={params.get(`p.${name}`) ?? ''}
              placeholder={taken?.as === 'typed' ? '' : DISTRIBUTION.fitted}
              onTyped={(value) => put({ [`p.${name}`]: value })}
            />
          ))}
        </Box>
      )}
      <Pick
        label={DISTRIBUTION.start}
        value={question.from_a_start === true ? '1' : ''}
        onPick={(value) => put({ start: value })}
        options={[
          ['', DISTRIBUTION.withoutStart],
          ['1', DISTRIBUTION.withStart],
        ]}
      />
      <Pick
        label={DISTRIBUTION.keep}
        value={params.get('percentile') ?? (params.has('low') || params.has('high') ? 'constants' : '')}
        onPick={(value) =>
          put({ low: null, high: null, percentile: null, ...(value !== 'constants' && { percentile: value }) })
        }
        options={[
          ['', DISTRIBUTION.keepAll],
          ...['0.001', '0.005', '0.01', '0.05'].map((p) => [p, DISTRIBUTION.keepBetween(Number(p))] as const),
          ...(params.has('low') || params.has('high') ? ([['constants', DISTRIBUTION.constants]] as const) : []),
        ]}
      />
      <Typed
        label={DISTRIBUTION.from}
        value={params.get('low') ?? ''}
        placeholder={DISTRIBUTION.noEnd}
        onTyped={(value) => put({ low: value, percentile: null })}
      />
      <Typed
        label={DISTRIBUTION.to}
        value={params.get('high') ?? ''}
        placeholder={DISTRIBUTION.noEnd}
        onTyped={(value) => put({ high: value, percentile: null })}
      />
      <BarsPick address={address} />
      <Pick
        label={DISTRIBUTION.drawn}
        value={params.get('drawn') ?? '100'}
        onPick={(value) => put({ drawn: value === '100' ? null : value })}
        options={DRAWN.map((n) => [String(n), DISTRIBUTION.lastDrawn(n)] as const)}
      />
    </AskFrame>
  );
}
