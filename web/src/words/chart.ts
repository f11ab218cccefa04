import { plural } from './numbers';

/** What stands in a control chart. */
export const CHART = {
  drawn: (title: string, points: number, signals: number) =>
    `Control chart of ${title}, ${plural(points, { one: '1 point', other: `${points} points` })}, ${plural(signals, { one: '1 signal', other: `${signals} signals` })}`,
  keys: 'Arrow keys choose a point, plus and minus zoom, page up and down move along, zero shows all.',
  period: (name: string, state: string | null) => (state === null ? name : `${name} · ${state}`),
  signal: (state: string, label: string) => `${state} signal: ${label}`,
  components: 'Reference components',
};
