import { plural } from './numbers';

/** What stands in a control chart. */
export const CHART = {
  drawn: (title: string, points: number, episodes: number) =>
    `Control chart of ${title}, ${plural(points, { one: '1 point', other: `${points} points` })}, ${plural(episodes, { one: '1 episode', other: `${episodes} episodes` })}`,
  keys: 'Arrow keys choose a point, plus and minus zoom, page up and down move along, zero shows all.',
  period: (name: string, state: string | null) => (state === null ? name : `${name} · ${state}`),
  episode: (state: string, label: string) => `${state} episode: ${label}`,
  components: 'Reference components',
  overview: 'Part of the chart that is seen',
  seen: (from: number, to: number, all: number) => `points ${from} to ${to} of ${all}`,
  seenAll: 'all points',
};
