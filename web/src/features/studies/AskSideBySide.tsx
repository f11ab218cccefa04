import { Box, Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import type { Kind, Question } from '../../api/client';
import { queries } from '../../api/queries';
import { Pick } from '../../ui/Pick';
import type { Address } from '../../ui/useAddress';
import { SIDE_BY_SIDE } from '../../words/sideBySide';
import { nested, nestedAs, ofAnother } from './address';
import { CharacteristicPick } from '../../ui/CharacteristicPick';
import { AskFrame, Said } from './AskFrame';
import { SelectionFields } from './SelectionFields';
import { SplitPick } from './SplitPick';
import { Typed } from './Typed';
import { useNested } from './useNested';

type Asked = Extract<Question, { sort: 'side_by_side' }>;

const SETS_AT_MOST = 12;

/** The sets that stand side by side: the first is what the others are held against. */
export function AskSideBySide({ question, address }: { question: Asked; address: Address }) {
  const { params, put } = address;
  const all = nested(params, 'set');
  const first = question.sets[0]?.of.characteristic ?? '';
  const kind = useQuery(queries.plan).data?.characteristics.find(({ id }) => id === first)?.kind;
  const more = () => put(nestedAs(params, 'set', [...all, new URLSearchParams({ of: first })]));
  return (
    <>
      {question.sets.map((set, i) => (
        <OneSet
          // A set keeps its place as long as none before it is taken away.
          key={`${i} of ${all.length}`}
          at={i}
          set={set}
          kind={kind}
          address={address}
          {...(all.length > 1 && {
            onRemove: () =>
              put(
                nestedAs(
                  params,
                  'set',
                  all.filter((_, j) => j !== i),
                ),
              ),
          })}
        />
      ))}
      <Box sx={{ display: 'flex', gap: 1.25, flexWrap: 'wrap', mb: 2, displayPrint: 'none' }}>
        {all.length < SETS_AT_MOST && (
          <Button variant="outlined" onClick={more}>
            {SIDE_BY_SIDE.more}
          </Button>
        )}
        <SplitPick of={first} address={address} />
        <Pick
          label={SIDE_BY_SIDE.confidence}
          value={params.get('confidence') ?? '95'}
          onPick={(value) => put({ confidence: value === '95' ? null : value })}
          options={['80', '90', '95', '99', '99.9'].map((c) => [c, `${c} %`] as const)}
        />
      </Box>
    </>
  );
}

function OneSet({
  at,
  set,
  kind,
  address,
  onRemove,
}: {
  at: number;
  set: Asked['sets'][number];
  kind: Kind | undefined;
  address: Address;
  onRemove?: () => void;
}) {
  const own = useNested(address, 'set', at);
  return (
    <AskFrame
      label={SIDE_BY_SIDE.set(at + 1)}
      sentence={
        <>
          <Said>{at === 0 ? SIDE_BY_SIDE.base : SIDE_BY_SIDE.beside}</Said>
          <CharacteristicPick
            label={SIDE_BY_SIDE.set(at + 1)}
            value={set.of.characteristic}
            kinds={at === 0 || kind === undefined ? null : [kind]}
            onPick={(id) => own.put(ofAnother(own.params, id))}
          />
          <Typed
            label={SIDE_BY_SIDE.called}
            value={own.params.get('name') ?? ''}
            placeholder={SIDE_BY_SIDE.byItsName}
            words
            onTyped={(name) => own.put({ name })}
          />
          {onRemove && (
            <Button color="inherit" onClick={onRemove}>
              {SIDE_BY_SIDE.remove}
            </Button>
          )}
        </>
      }
    >
      <SelectionFields of={set.of} address={own} />
    </AskFrame>
  );
}
