import { Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import type { Question } from '../../api/client';
import { queries } from '../../api/queries';
import { Pick } from '../../ui/Pick';
import type { Address } from '../../ui/useAddress';
import { PRESETS } from '../../words/plan';
import { RULES_WEIGHED } from '../../words/rulesWeighed';
import { nested, nestedAs } from './address';
import { AskFrame, Said } from './AskFrame';
import { designAddress } from './questions';
import { Typed } from './Typed';
import { useNested } from './useNested';

type Asked = Extract<Question, { sort: 'rule_sets' }>;

const DESIGNS_AT_MOST = 4;

/** Rules at limits, and how samples are taken: up to four beside one another. */
export function AskRuleSets({ question, address }: { question: Asked; address: Address }) {
  const { params, put } = address;
  const all = nested(params, 'design');
  const more = () => {
    const last = question.designs[question.designs.length - 1];
    if (last)
      put(nestedAs(params, 'design', [...all, designAddress({ ...last, name: RULES_WEIGHED.nth(all.length) })]));
  };
  return (
    <>
      {question.designs.map((design, i) => (
        <OneDesign
          key={`${i} of ${all.length}`}
          at={i}
          design={design}
          own={question.of != null}
          address={address}
          {...(all.length > 1 && {
            onRemove: () =>
              put(
                nestedAs(
                  params,
                  'design',
                  all.filter((_, j) => j !== i),
                ),
              ),
          })}
        />
      ))}
      {all.length < DESIGNS_AT_MOST && (
        <Button variant="outlined" onClick={more} sx={{ mb: 2, displayPrint: 'none' }}>
          {RULES_WEIGHED.more}
        </Button>
      )}
    </>
  );
}

function OneDesign({
  at,
  design,
  own,
  address,
  onRemove,
}: {
  at: number;
  design: Asked['designs'][number];
  own: boolean;
  address: Address;
  onRemove?: () => void;
}) {
  const { params, put } = useNested(address, 'design', at);
  const sets = useQuery(queries.ruleSets).data ?? [];
  return (
    <AskFrame
      label={RULES_WEIGHED.nth(at)}
      sentence={
        <>
          <Said>{RULES_WEIGHED.weigh}</Said>
          <Typed label={RULES_WEIGHED.called} value={design.name} words onTyped={(name) => put({ name })} />
          {onRemove && (
            <Button color="inherit" onClick={onRemove}>
              {RULES_WEIGHED.remove}
            </Button>
          )}
        </>
      }
    >
      <Pick
        label={RULES_WEIGHED.rules}
        value={params.get('rules') ?? 'western_electric'}
        onPick={(rules) => put({ rules })}
        options={[
          ...(own ? ([['own', RULES_WEIGHED.own]] as const) : []),
          ...Object.entries(PRESETS),
          ...sets.map(({ id, name }) => [id, name] as const),
        ]}
      />
      <Typed label={RULES_WEIGHED.k} value={params.get('k') ?? '3'} onTyped={(k) => put({ k })} />
      <Typed label={RULES_WEIGHED.pieces} value={params.get('pieces') ?? '1'} onTyped={(pieces) => put({ pieces })} />
      <Typed label={RULES_WEIGHED.every} value={params.get('every') ?? '60'} onTyped={(every) => put({ every })} />
    </AskFrame>
  );
}
