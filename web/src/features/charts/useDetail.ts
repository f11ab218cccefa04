import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import type { ChartView } from '../../api/chart';
import { queries } from '../../api/queries';
import { fromView } from '../../chart/fromView';
import type { ChartModel } from '../../chart/model';
import { withDetail } from '../../chart/withDetail';
import { before, type Window } from '../../plot/places';

/** While the hand moves, nothing is asked for. */
const RESTS_MS = 120;
/** A stretch is known well enough where a mark stands for fewer points than this. */
const WELL_KNOWN = 1.5;

/** A chart of which more is known where it is looked at closely, once it has come. */
export function useDetail(view: ChartView, window_: Window | null): { model: ChartModel; detail: ChartView | null } {
  const whole = useMemo(() => fromView(view), [view]);
  const ends = window_ === null ? null : endsOf(view, window_);
  const wanted = useRested(ends === null ? null : `${ends.from}..${ends.to}`);
  const [from, to] = (wanted ?? '').split('..').map(Number);
  const query = useQuery({
    ...queries.chart(view.characteristic.id, { from: from ?? 0, to: to ?? 0 }),
    enabled: wanted !== null,
    placeholderData: keepPreviousData,
  });
  const detail = ends === null ? null : (query.data ?? null);
  return useMemo(() => {
    if (detail === null) return { model: whole, detail };
    const at = (mark: number) => whole.number.indexOf(detail.marks.number[mark] ?? -1);
    const [first, last] = [at(0), at(detail.marks.number.length - 1)];
    // Other points may have come in between.
    if (first === -1 || last < first) return { model: whole, detail: null };
    return { model: withDetail(whole, first, last, fromView(detail)), detail };
  }, [whole, detail]);
}

/** The numbers of the samples between which more is to be known: what is seen, and as much on either side. */
function endsOf({ marks, places }: ChartView, { from, to }: Window): { from: number; to: number } | null {
  if (places === marks.place.length) return null;
  const beside = to - from;
  const first = Math.max(0, before(marks.place, from - beside) - 1);
  const last = Math.min(marks.place.length - 1, before(marks.place, to + beside));
  const points = (marks.place[last] ?? 0) - (marks.place[first] ?? 0) + 1;
  if (points < WELL_KNOWN * (last - first + 1)) return null;
  return { from: marks.number[first] ?? 0, to: marks.number[last] ?? 0 };
}

/** A value once it has stayed the same for a moment. */
function useRested<T>(value: T): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(value), RESTS_MS);
    return () => window.clearTimeout(timer);
  }, [value]);
  return rested;
}
