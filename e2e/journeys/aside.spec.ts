import { query } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

test('an entry at which the server always fails steps aside; the others go on, and it can be sent again', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  const [wall] = await query<{ id: string }>(
    nuvek.database,
    `select c.id from characteristic c join station s on s.id = c.station_id where c.name = 'Wall thickness' and s.name = 'Casting line 1'`,
  );
  const failing = `**/characteristics/${wall?.id ?? ''}/samples`;
  await page.route(failing, (route) =>
    route.fulfill({ status: 500, contentType: 'application/problem+json', body: '{"code":"internal","params":{}}' }),
  );
  await openEntry(page, /Wall thickness.*C-20/);
  for (const [i, reading] of ['6.31', '6.28', '6.42', '6.35', '6.30'].entries())
    await page.getByLabel(`Piece ${i + 1}`).fill(reading);
  await page.keyboard.press('Enter');
  await expect(page.getByText('The server failed. The sample is kept on this device', { exact: false })).toBeVisible();
  // Another characteristic goes through meanwhile.
  await page.goto(`${nuvek.url}/rounds`);
  await page.getByRole('link', { name: /Viscosity/ }).click();
  await page.getByLabel('Reading').fill('412');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Sample \d+ is saved/)).toBeVisible();
  await page.getByRole('link', { name: /on this device/ }).click();
  const entry = page.getByRole('region', { name: /Wall thickness/ });
  await expect(entry).toContainText('The others have gone on without it.', { timeout: 30_000 });
  await expect(entry.getByRole('button', { name: 'Type it again' })).toBeVisible();
  await expect(entry.getByRole('button', { name: 'Give it up …' })).toBeVisible();
  await page.unroute(failing);
  await entry.getByRole('button', { name: 'Send it again' }).click();
  await expect(page.getByText('Nothing waits.', { exact: false })).toBeVisible();
});

test('whose work ships inside is named, npm packages and crates', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  const text = await (await page.request.get(`${nuvek.url}/licences.md`)).text();
  for (const name of ['react', '# Crates', '- axum ', '- sqlx ', 'Apache License']) expect(text).toContain(name);
});
