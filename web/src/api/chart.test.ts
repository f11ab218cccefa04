import { expect, it } from 'vitest';
import { decoded } from './chart';

type Sent = Parameters<typeof decoded>[0];

/** Three samples: two measured, one of them corrected and doubted, and one that was skipped. */
const sent = {
  places: 3,
  points: {
    place: [0, 1, 2],
    number: [7, 9, 8],
    taken_at: [0, 60_000, 120_000],
    aside: [{ point: 1, is: { because: 'mixed up', person: 'Sanna', at: '1970-01-02T00:00:00Z' } }],
    restart: [],
    gap: [{ point: 2, is: { withdrawn: false, because: 'no product', person: 'Milo' } }],
    details: {
      sample: ['a', 'b', 'c'],
      arrived_at: [1000, 61_000, 120_500],
      people: ['Tilda', 'Milo'],
      person: [0, 1, 1],
      tag_sets: [{ lot: 'K-1' }, {}],
      tags: [0, 0, 1],
      version: [1, 2, 1],
      corrected: [1],
      doubts: [{ point: 1, is: [{ piece: 2, first: '50' }] }],
      values: [[4.1, null], [4.2, 5], null],
      components: [{ point: 0, is: [1.5] }],
      inspected: [],
      defects: [],
      events: [],
    },
  },
} as unknown as Sent;

it('puts points together from their columns', () => {
  const [first, second, third] = decoded(sent).points;
  expect(first).toMatchObject({
    sample: 'a',
    number: 7,
    place: 0,
    person: 'Tilda',
    taken_at: '1970-01-01T00:00:00.000Z',
    tags: { lot: 'K-1' },
    content: { readings: { values: [4.1, null], components: [1.5] } },
    aside: null,
    corrected: false,
    doubts: [],
  });
  expect(second).toMatchObject({
    person: 'Milo',
    version: 2,
    corrected: true,
    doubts: [{ piece: 2, first: '50' }],
    aside: { because: 'mixed up' },
    content: { readings: { values: [4.2, 5], components: [] } },
  });
  expect(third).toMatchObject({ content: null, gap: { because: 'no product' }, tags: {}, person: 'Milo' });
});

it('tells counts, and what was not counted, apart', () => {
  const details = {
    ...sent.points.details,
    values: [],
    inspected: [50, 50, null],
    defects: [{ point: 1, is: [{ kind: null, word: 'crack', count: 2 }] }],
  };
  const { points } = decoded({ ...sent, points: { ...sent.points, details } } as Sent);
  expect(points.map(({ content }) => content)).toEqual([
    { counts: { inspected: 50, defects: [] } },
    { counts: { inspected: 50, defects: [{ kind: null, word: 'crack', count: 2 }] } },
    null,
  ]);
});

it('knows the marks alone where there are very many', () => {
  const view = decoded({ ...sent, points: { ...sent.points, details: null } });
  expect([view.points.length, view.marks.number]).toEqual([0, [7, 9, 8]]);
});
