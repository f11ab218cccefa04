import { QueryClient, QueryObserver } from '@tanstack/react-query';
import { expect, it } from 'vitest';
import { askAgain, askFailedAgain } from './again';

/** A question whose answers are given by hand, as somebody sees it. */
function asked(client: QueryClient) {
  const answers: ((answer: string) => void)[] = [];
  const queryFn = () => new Promise<string>((answer) => answers.push(answer));
  const observer = new QueryObserver(client, { queryKey: ['rounds'], queryFn });
  return { answers, observer, stop: observer.subscribe(() => undefined) };
}

const turn = () => new Promise((done) => setTimeout(done));

it.each([
  ['one subject', ['rounds'] as const],
  ['everything', undefined],
])('asks once more for what was asked for the first time when something changed: %s', async (_, key) => {
  const client = new QueryClient();
  const { answers, observer, stop } = asked(client);
  const again = askAgain(client, key);
  await turn();
  answers[0]?.('as it was before');
  await turn();
  answers[1]?.('as it is');
  await again;
  expect(observer.getCurrentResult().data).toBe('as it is');
  expect(answers).toHaveLength(2);
  stop();
});

it('asks once for what was answered before', async () => {
  const client = new QueryClient();
  const { answers, stop } = asked(client);
  await turn();
  answers[0]?.('as it was before');
  await turn();
  void askAgain(client, ['rounds']);
  await turn();
  answers[1]?.('as it is');
  await turn();
  expect(answers).toHaveLength(2);
  stop();
});

it('asks again for what failed while the network was away, and for that alone', async () => {
  const client = new QueryClient();
  const { answers, stop } = asked(client);
  answers[0]?.('as it is');
  let away = true;
  const queryFn = () => (away ? Promise.reject(new TypeError('away')) : Promise.resolve('there'));
  const failing = new QueryObserver(client, { queryKey: ['chart'], queryFn, retry: false });
  const stopFailing = failing.subscribe(() => undefined);
  await turn();
  expect(failing.getCurrentResult().status).toBe('error');
  away = false;
  await askFailedAgain(client);
  expect(failing.getCurrentResult().data).toBe('there');
  expect(answers).toHaveLength(1);
  stopFailing();
  stop();
});
