import { QueryClient } from '@tanstack/react-query';
import { expect, it } from 'vitest';
import type { News } from './client';
import { touch, touched } from './touches';

const asked = [
  ['plan'],
  ['small-charts', 'last 40'],
  ['rounds'],
  ['chart', 'wall', 60],
  ['chart', 'leaks', 60],
  ['episode', 'g'],
  ['waiting'],
  ['devices'],
  ['offers', 'bench'],
];

it.each<[News, string[]]>([
  [{ kind: 'plan' }, ['plan', 'small-charts last 40', 'rounds', 'chart wall 60', 'chart leaks 60', 'devices']],
  [
    { kind: 'sample', characteristic: 'wall' },
    ['small-charts last 40', 'rounds', 'chart wall 60', 'episode g', 'waiting'],
  ],
  [
    { kind: 'limits', characteristic: 'leaks' },
    ['small-charts last 40', 'rounds', 'chart leaks 60', 'episode g', 'waiting'],
  ],
  [{ kind: 'offer', station: 'bench', offer: 'o' }, ['offers bench']],
])('news of %j is asked about where it is shown, and nowhere else', async (news, stale) => {
  const client = new QueryClient();
  asked.forEach((queryKey) => client.setQueryData(queryKey, {}));
  await touch(client, news);
  const found = client
    .getQueryCache()
    .getAll()
    .filter((query) => query.state.isInvalidated);
  expect(found.map((query) => query.queryKey.join(' '))).toEqual(stale);
});

it('asks for no chart again that has the point already', () => {
  const subjects = touched({ kind: 'sample', characteristic: 'wall', added: 7 }, true).map(([subject]) => subject);
  expect(subjects).toContain('waiting');
  expect(subjects.filter((subject) => subject === 'chart' || subject === 'small-charts')).toEqual([]);
});
