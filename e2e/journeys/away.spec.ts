import { Network } from '../support/network';
import { query } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

const samples = (database: string) =>
  query<{ number: string; readings: number[]; waited: boolean }>(
    database,
    `select s.number, s.readings, s.arrived_at - s.taken_at > interval '1 second' as waited
     from sample s join characteristic c on c.id = s.characteristic_id
     where c.name = 'Burst pressure' and s.number > 18 order by s.number`,
  );

test('entries wait while the server is stopped and are saved once, in order, when it is back', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Burst pressure/);
  await page.keyboard.type('20.1');
  await page.keyboard.press('Enter');
  await nuvek.stop();
  await expect(page.getByText(/The server cannot be reached. What is shown may be out of date/)).toBeVisible();
  await page.keyboard.type('20.3');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/The sample is kept on this device and goes through by itself/)).toBeVisible();
  await expect(page.getByLabel('Piece 1')).toHaveValue('');
  await page.getByLabel('Piece 1').fill('20.5');
  await page.keyboard.press('Enter');
  await page.keyboard.type('20.7');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('link', { name: '2 wait on this device' })).toBeVisible();
  await page.waitForTimeout(1500);
  await nuvek.start();
  await expect(page.getByText('The sample that waited has gone through.')).toBeVisible({ timeout: 15_000 });
  expect(await samples(nuvek.database)).toEqual([
    { number: '19', readings: [20.1, 20.3], waited: true },
    { number: '20', readings: [20.5, 20.7], waited: true },
  ]);
});

test('an answer that was lost on the way back does not double the sample', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Burst pressure/);
  await page.keyboard.type('20.1');
  await page.keyboard.press('Enter');
  await page.keyboard.type('20.3');
  let lost = 0;
  await page.route('**/samples', async (route) => {
    if (lost++ > 0) return route.continue();
    // The server saves it; the browser never hears of it.
    await route.fetch();
    await route.abort();
  });
  await page.keyboard.press('Enter');
  await expect(page.getByText(/goes through by itself/)).toBeVisible();
  await page.reload();
  await expect.poll(() => lost, { timeout: 15_000 }).toBe(2);
  await expect(page.getByText(/on this device/)).toHaveCount(0);
  expect(await samples(nuvek.database)).toHaveLength(1);
});

test('a half-typed sample is there again after the page was left', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Burst pressure/);
  await page.keyboard.type('20.1');
  await page.keyboard.press('Enter');
  await page.keyboard.type('19');
  await page.reload();
  await expect(page.getByLabel('Piece 1')).toHaveValue('20.1');
  await expect(page.getByLabel('Piece 2')).toHaveValue('19');
});

test('when the session has ended the entry stays, and is saved after signing in again', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Burst pressure/);
  await page.keyboard.type('20.1');
  await page.keyboard.press('Enter');
  await query(nuvek.database, 'delete from session');
  await page.keyboard.type('20.3');
  await expect(page.getByText('The session has ended. What you typed is kept.')).toBeVisible();
  await expect(page.getByLabel('Piece 2')).toBeFocused();
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'The session has ended' });
  await dialog.getByLabel('Password').fill('tarn-valley');
  await dialog.getByRole('button', { name: 'Sign in' }).click();
  await expect(dialog).toHaveCount(0);
  await expect.poll(async () => (await samples(nuvek.database)).map((s) => s.readings)).toEqual([[20.1, 20.3]]);
});

test('what the network kept from being answered is asked for again when it is back', async ({ browser, nuvek }) => {
  const network = await Network.to(nuvek.port);
  try {
    const page = await signedIn(browser, network.url, 'tilda');
    const listens = page.waitForResponse(/\/api\/live/);
    await page.goto(`${network.url}/charts?find=Viscosity`);
    await page.getByRole('link', { name: /Viscosity/ }).click();
    await page.getByText(/samples in all/).waitFor();
    await listens;
    await page.goBack();
    await page.getByLabel('Find').fill('Burst');
    await page.getByRole('link', { name: /Burst pressure/ }).waitFor();
    await network.goesAway();
    await page.getByRole('link', { name: /Burst pressure/ }).click();
    await expect(page.getByRole('button', { name: 'Load again' })).toBeVisible({ timeout: 20_000 });
    await network.comesBack();
    await expect(page.getByText(/samples in all/)).toBeVisible({ timeout: 15_000 });
  } finally {
    await network.goesAway();
  }
});
