import type { Page } from '@playwright/test';
import { query } from '../support/nuvek';
import { expect, signedIn, signIn, test } from '../support/test';

test('lists are filtered by address, and an empty one says so', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'sanna');
  await page.goto(`${nuvek.url}/charts`);
  await page.getByLabel('Find by name, product or station').fill('kiln');
  await expect(page).toHaveURL(/find=kiln/);
  await expect(page.getByRole('link', { name: /Peak temperature|Firing shrinkage/ })).toHaveCount(2);
  await expect(page.getByRole('link', { name: /Viscosity/ })).toHaveCount(0);
  await page.getByLabel('Find by name, product or station').fill('nowhere');
  await expect(page.getByText('No chart has “nowhere” in its name, product, station or labels.')).toBeVisible();
  await query(nuvek.database, "update episode set state = 'open' where state = 'answered'");
  await page.goto(`${nuvek.url}/signals`);
  await page.getByRole('button', { name: 'To review' }).click();
  await expect(page).toHaveURL(/state=answered/);
  await expect(page.getByText('No answer waits for review.')).toBeVisible();
});

test('times are those of the site, wherever the device thinks it is', async ({ browser, nuvek }) => {
  const here = await signedIn(browser, nuvek.url, 'tilda');
  const context = await browser.newContext({ timezoneId: 'Pacific/Auckland' });
  const elsewhere = await context.newPage();
  await elsewhere.goto(nuvek.url);
  await signIn(elsewhere, 'milo');
  await elsewhere.getByRole('heading', { name: 'Rounds', level: 1 }).waitFor();
  const due = (page: Page) => page.locator('a[data-state]').filter({ hasText: 'Wall thickness' }).first();
  await query(
    nuvek.database,
    `with taken as (
       update sample s set taken_at = now() from characteristic c join sample_head h on h.characteristic_id = c.id
       where c.id = s.characteristic_id and c.name = 'Wall thickness' and s.number = h.next_number - 1
       returning c.id)
     update sample_head h set newest_at = now() from taken where h.characteristic_id = taken.id`,
  );
  for (const page of [here, elsewhere]) await page.reload();
  await expect(due(here)).toContainText(/next at \d\d:\d\d/);
  const [next] = /next at \d\d:\d\d/.exec((await due(here).textContent()) ?? '') ?? [];
  await expect(due(elsewhere)).toContainText(next ?? 'a time');
});

test('what cannot be loaded says why and can be loaded again', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await page.goto(`${nuvek.url}/signals/00000000-0000-4000-8000-000000000000`);
  await expect(page.getByText('There is no such episode any more.')).toBeVisible();
  await page.goto(`${nuvek.url}/nowhere`);
  await expect(page.getByText('There is nothing at this address.')).toBeVisible();
  await page.goto(`${nuvek.url}/charts`);
  await page.getByRole('link', { name: /Viscosity/ }).waitFor();
  let broken = true;
  await page.route(/\/api\/charts\?/, (route) =>
    broken ? route.fulfill({ status: 500, body: '' }) : route.continue(),
  );
  await page.goto(`${nuvek.url}/charts`);
  // What was seen before stays in sight, and says so.
  await expect(page.getByText(/What is shown is as it was last seen. The server failed/)).toBeVisible({
    timeout: 20_000,
  });
  await expect(page.getByRole('link', { name: /Viscosity/ })).toBeVisible();
  await page.evaluate(() => indexedDB.deleteDatabase('nuvek'));
  await page.goto(`${nuvek.url}/charts`);
  await expect(page.getByText(/^The server failed/)).toBeVisible({ timeout: 20_000 });
  broken = false;
  await page.getByRole('button', { name: 'Load again' }).click();
  await expect(page.getByRole('link', { name: /Viscosity/ })).toBeVisible();
});

test('the choice of light or dark stays with the device', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  const ground = () => page.evaluate(() => getComputedStyle(document.body).backgroundColor);
  const light = await ground();
  await page.getByRole('button', { name: 'Switch to dark' }).click();
  await expect.poll(ground).not.toBe(light);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Switch to light' })).toBeVisible();
});
