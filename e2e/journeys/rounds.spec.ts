import type { Page } from '@playwright/test';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

/** So many characteristics on a round as one person looks after at most. */
const FORTY = 40;

interface SetUp {
  characteristics: Record<string, unknown>[];
}

/** Sets up copies of a characteristic until there are forty. */
async function fortyCharacteristics(page: Page, url: string) {
  const plan = (await (await page.request.get(`${url}/api/plan`)).json()) as SetUp;
  const model = plan.characteristics.find((c) => c.name === 'Flow rate');
  if (!model) throw new Error('no model to copy');
  const {
    id: _id,
    station: _s,
    station_id,
    product: _p,
    product_id,
    created_at: _c,
    version: _v,
    ...characteristic
  } = model;
  for (let n = plan.characteristics.length; n < FORTY; n++) {
    const data = {
      station: station_id,
      product: product_id,
      characteristic: { ...characteristic, name: `Flow rate ${n}` },
    };
    expect((await page.request.post(`${url}/api/plan/characteristics`, { data })).status()).toBe(201);
  }
}

test('a round of forty characteristics is filtered by area and sorted by urgency', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  await fortyCharacteristics(page, nuvek.url);
  await page.reload();
  const stops = page.locator('a[data-state]');
  await expect(stops).toHaveCount(FORTY);

  await page.getByRole('button', { name: 'By urgency' }).click();
  await page.getByRole('region', { name: 'By urgency' }).waitFor();
  const order = ['overdue', 'due', 'done'];
  const states = await stops.evaluateAll((all) => all.map((a) => a.getAttribute('data-state') ?? ''));
  expect(states).toEqual([...states].sort((a, b) => order.indexOf(a) - order.indexOf(b)));
  expect(new Set(states).size).toBeGreaterThan(1);

  await page.getByRole('combobox', { name: 'Area' }).click();
  await page.getByRole('option', { name: 'Finishing' }).click();
  await expect(page).toHaveURL(/area=Finishing/);
  // The copies at the leak test were never sampled, so something is due there at any hour.
  await expect(stops).not.toHaveCount(FORTY);
  const first = await stops.first().getAttribute('href');
  // What is shown is in the address; a key opens the most urgent of it.
  await page.reload();
  await expect(stops.first()).toHaveAttribute('href', first ?? '');
  await page.keyboard.press('n');
  await expect(page).toHaveURL(new RegExp(`${first}$`));
});

test('a pinned station stands first, for the person who pinned it', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  const headings = page.getByRole('heading', { level: 2 });
  await expect(headings.first()).not.toContainText('Leak test');
  await page.getByRole('button', { name: 'Keep Leak test on top' }).click();
  await expect(headings.first()).toContainText('Leak test');
  await page.reload();
  await expect(headings.first()).toContainText('Leak test');
  const other = await signedIn(browser, nuvek.url, 'milo');
  await expect(other.getByRole('heading', { level: 2 }).first()).not.toContainText('Leak test');
  await page.getByRole('button', { name: 'Keep Leak test on top' }).click();
  await expect(headings.first()).not.toContainText('Leak test');
});

test('counting pieces makes a sample due that is taken every so many', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  const stop = page.getByRole('link', { name: /Cosmetic defects/ });
  await page.getByRole('button', { name: 'Count pieces made at Packing' }).click();
  await page.keyboard.type('2000');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(stop).toContainText(/overdue by \d+ pieces/);

  // Without a network the count waits, and is counted once.
  const before = await query<{ made: string }>(
    nuvek.database,
    "select pieces_made::text as made from station where name = 'Packing'",
  );
  let sent = 0;
  await page.route('**/pieces', async (route) => {
    sent += 1;
    // The first request arrives; its answer is lost.
    if (sent === 1) await route.fetch();
    await route.abort();
  });
  await page.getByRole('button', { name: 'Count pieces made at Packing' }).click();
  await page.keyboard.type('10');
  await page.keyboard.press('Enter');
  await expect(page.getByText('1 waits on this device')).toBeVisible();
  await page.unroute('**/pieces');
  await expect(page.getByText('1 waits on this device')).toHaveCount(0);
  const after = await query<{ made: string }>(
    nuvek.database,
    "select pieces_made::text as made from station where name = 'Packing'",
  );
  expect(Number(after[0]?.made) - Number(before[0]?.made)).toBe(10);
});
