import { afterEach, beforeEach, expect, it, vi } from 'vitest';

const URL_OF = 'http://nuvek.test/api/session';
const fetched = vi.fn(() => Promise.resolve(new Response('fetched')));

let fetchOrTaken: typeof import('./ahead').fetchOrTaken;
let knownByAll: typeof import('./ahead').knownByAll;

beforeEach(async () => {
  vi.resetModules();
  ({ fetchOrTaken, knownByAll } = await import('./ahead'));
});

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

it.each([
  ['the least of what the answers know', ['17', '15', '16'], 15],
  ['nothing where one of them does not say it', ['17', null], undefined],
  ['nothing where nothing was asked ahead', [], undefined],
])('knows from where on news are new: %s', async (_, positions, known) => {
  const answer = (position: string | null) =>
    Promise.resolve(new Response('', { headers: position === null ? {} : { 'news-position': position } }));
  vi.stubGlobal('window', { askedAhead: Object.fromEntries(positions.map((at, n) => [`/${n}`, answer(at)])) });
  await Promise.all(positions.map((_, n) => fetchOrTaken(new Request(`http://nuvek.test/${n}`))));
  expect(await knownByAll()).toBe(known);
});

it('knows nothing of news where an early question did not get through', async () => {
  await asking(Promise.reject(new TypeError('away')))(new Request(URL_OF));
  expect(await knownByAll()).toBeUndefined();
});
