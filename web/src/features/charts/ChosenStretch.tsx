import { useQuery } from '@tanstack/react-query';
import { queries } from '../../api/queries';
import type { ChartModel } from '../../chart/model';
import type { Window } from '../../plot/places';
import { Loaded } from '../../ui/States';
import { STRETCH } from '../../words/stretch';
import { StretchCard } from '../points';

interface Props {
  model: ChartModel;
  characteristic: string;
  /** Its first mark and its last. */
  marks: readonly [number, number];
  onClose: (window: Window | null) => void;
  onAway: () => void;
}

/** The card of several points in a row. */
export function ChosenStretch({ model, characteristic, marks: [first, last], onClose, onAway }: Props) {
  const [from, to] = [model.number[first] ?? 0, model.number[last] ?? 0];
  const query = useQuery(queries.chart(characteristic, { from, to }));
  const [begins, ends] = [model.place[first] ?? 0, model.place[last] ?? 0];
  return (
    <Loaded query={query} what={STRETCH.theSamples}>
      {(view) => (
        <StretchCard view={view} onAway={onAway} onClose={() => onClose({ from: begins - 0.5, to: ends + 0.5 })} />
      )}
    </Loaded>
  );
}
