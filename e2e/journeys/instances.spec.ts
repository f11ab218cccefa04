import { Nuvek } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

test('two instances on one database both show what happens on either', async ({ browser, nuvek }) => {
  const second = await Nuvek.start(nuvek.database);
  try {
    const here = await signedIn(browser, nuvek.url, 'tilda');
    const there = await signedIn(browser, second.url, 'sanna');
    await there.goto(`${second.url}/charts?find=Viscosity`);
    await there.getByRole('link', { name: /Viscosity/ }).click();
    const count = async () =>
      Number(/(\d+) samples in all/.exec(await there.getByText(/samples in all/).innerText())?.[1]);
    const before = await count();
    await openEntry(here, /Viscosity/);
    await here.keyboard.type('331');
    await here.keyboard.press('Enter');
    await expect(here.getByText(/is saved/)).toBeVisible();
    await expect.poll(count).toBe(before + 1);
  } finally {
    await second.stop();
  }
});

test('a page asks for each thing once, and hears what happened before it listens', async ({ browser, nuvek }) => {
  const watching = await signedIn(browser, nuvek.url, 'sanna');
  const entering = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(entering, /Viscosity/);
  const asked = new Map<string, number>();
  watching.on('request', (request) => {
    const { pathname } = new URL(request.url());
    if (pathname.startsWith('/api/')) asked.set(pathname, (asked.get(pathname) ?? 0) + 1);
  });
  let listen = () => {};
  const listens = new Promise<void>((resolve) => (listen = resolve));
  await watching.route('**/api/live*', async (route) => {
    await listens;
    await route.continue();
  });
  await watching.goto(`${nuvek.url}/charts?find=Viscosity`);
  await watching.getByRole('link', { name: /Viscosity/ }).click();
  const count = watching.getByText(/samples in all/);
  await count.waitFor();
  await expect.poll(() => asked.get('/api/live')).toBe(1);
  const before = Number(/(\d+) samples in all/.exec(await count.innerText())?.[1]);
  expect([...asked].filter(([, times]) => times > 1)).toEqual([]);
  await entering.keyboard.type('331');
  await entering.keyboard.press('Enter');
  await expect(entering.getByText(/is saved/)).toBeVisible();
  await expect(count).toContainText(`${before} samples in all`);
  listen();
  await expect(count).toContainText(`${before + 1} samples in all`);
  // What has nothing to do with the sample was not asked for again.
  expect(asked.get('/api/session')).toBe(1);
  expect(asked.get('/api/site')).toBe(1);
});
