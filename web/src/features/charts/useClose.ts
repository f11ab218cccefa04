import { useEffect, useRef, useState } from 'react';
import type { Marks } from '../../api/chart';
import { before, nearest, type Window } from '../../plot/places';
import type { Address } from '../../ui/useAddress';
import { closeIn } from './address';

/** The hand rests this long before what is seen becomes an address of its own, to come back to. */
const RESTS_MS = 400;

/** The part of a chart that is looked at closely. The address says it by times, so that a link shows the same later. */
export function useClose(marks: Marks, { params, put }: Address): [Window | null, (window: Window | null) => void] {
  const close = closeIn(params);
  const said = close === null ? '' : `${close.from}..${close.to}`;
  const written = useRef<string | null>(null);
  const timer = useRef<number>(undefined);
  const [window_, setWindow] = useState<Window | null>(null);
  useEffect(() => {
    if (said === written.current) return;
    written.current = said;
    const [from, to] = said.split('..').map(Number);
    setWindow(from === undefined || to === undefined ? null : between(marks, from, to));
  }, [said, marks]);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const look = (to: Window | null) => {
    setWindow(to);
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => {
      const times = to === null ? null : timesOf(marks, to);
      written.current = times === null ? '' : `${times.from}..${times.to}`;
      put({
        from: times === null ? null : new Date(times.from).toISOString(),
        to: times === null ? null : new Date(times.to).toISOString(),
      });
    }, RESTS_MS);
  };
  return [window_, look];
}

function between({ place, taken_at: takenAt }: Marks, from: number, to: number): Window | null {
  const [first, last] = [before(takenAt, from), before(takenAt, to + 1) - 1];
  const [begin, end] = [place[first], place[last]];
  return begin === undefined || end === undefined || begin > end ? null : { from: begin - 0.5, to: end + 0.5 };
}

function timesOf({ place, taken_at: takenAt }: Marks, { from, to }: Window) {
  const [first, last] = [nearest(place, from + 0.5) ?? 0, nearest(place, to - 0.5) ?? 0];
  return { from: takenAt[first] ?? 0, to: takenAt[last] ?? 0 };
}
