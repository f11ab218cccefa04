import { afterEach, expect, it, vi } from 'vitest';
import { fetchOrTaken } from './ahead';

const URL_OF = 'http://nuvek.test/api/session';
const fetched = vi.fn(() => Promise.resolve(new Response('fetched')));

/** What a question is answered with where `early` was asked ahead. */
function asking(early: Promise<Response>) {
  vi.stubGlobal('window', { askedAhead: { '/api/session': early } });
  vi.stubGlobal('fetch', fetched);
  return async (request: Request) => (await fetchOrTaken(request)).text();
}

afterEach(() => {
  vi.unstubAllGlobals();
  fetched.mockClear();
});

it('hands over what was asked for ahead, once, and to nobody who asks for something else', async () => {
  const ask = asking(Promise.resolve(new Response('early')));
  expect(await ask(new Request(`${URL_OF}?of=another`))).toBe('fetched');
  expect(await ask(new Request(URL_OF, { method: 'DELETE' }))).toBe('fetched');
  expect(await ask(new Request(URL_OF))).toBe('early');
  expect(await ask(new Request(URL_OF))).toBe('fetched');
  expect(fetched).toHaveBeenCalledTimes(3);
});

it('asks again where the early question did not get through', async () => {
  expect(await asking(Promise.reject(new TypeError('away')))(new Request(URL_OF))).toBe('fetched');
});
