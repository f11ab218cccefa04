import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

interface Handed {
  recipe: Record<string, unknown>;
}

/** What a link of the page downloads. */
async function downloaded(page: Page, link: string): Promise<Buffer> {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: link, exact: true }).click(),
  ]);
  return readFileSync(await download.path());
}

const readings = (database: string, of: string) =>
  query<{ number: string; readings: number[]; lot: string | null }>(
    database,
    `select s.number, s.readings, s.tags ->> 'lot' as lot from sample s join characteristic c on c.id = s.characteristic_id
     where c.name = $1 and s.readings is not null and s.withdrawn_at is null order by s.taken_at, s.number`,
    [of],
  );

test('samples of a chart are handed out in another shape, and come in again by the recipe that goes with them', async ({
  browser,
  nuvek,
}) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  await egon.goto(`${nuvek.url}/charts`);
  await egon
    .getByRole('link', { name: /Burst pressure/ })
    .first()
    .click();
  await egon.getByRole('button', { name: /^Take along/ }).click();
  await egon.getByRole('menuitem', { name: /in another shape/ }).click();
  await expect(egon.getByRole('heading', { name: 'Hand samples out', level: 1 })).toBeVisible();
  await egon.getByRole('radio', { name: /^One reading/ }).check();
  await egon.getByRole('checkbox', { name: 'Signals' }).check();
  const table = egon.getByRole('table');
  await expect(table.getByRole('columnheader', { name: 'reading' })).toBeVisible();
  await expect(table.getByRole('columnheader', { name: 'signals', exact: true })).toBeVisible();
  for (const colorScheme of ['light', 'dark'] as const) {
    await egon.emulateMedia({ colorScheme });
    await egon.waitForTimeout(500);
    expect(await barriers(egon)).toEqual([]);
  }
  const csv = await downloaded(egon, 'CSV');
  const before = await readings(nuvek.database, 'Burst pressure');
  const lines = csv.toString().trim().split('\r\n');
  expect(lines[0]).toMatch(/^sample,taken_at,piece,reading,/);
  const [first] = (JSON.parse((await downloaded(egon, 'The recipe')).toString()) as Handed[]) ?? [];
  expect(first?.recipe).toMatchObject({ shape: { kind: 'grouped', value: 'reading', by: ['sample'] } });

  // By the recipe, as another list of the same characteristic: each sample is there twice.
  const kept = await egon.request.post(`${nuvek.url}/api/data/recipes`, {
    data: { name: 'As handed out', recipe: first?.recipe },
    headers: { origin: nuvek.url },
  });
  expect(kept.status()).toBe(201);
  await egon.goto(`${nuvek.url}/data`);
  await egon.getByLabel('Choose a file').setInputFiles({ name: 'again.csv', mimeType: 'text/csv', buffer: csv });
  await egon.getByRole('combobox', { name: 'Recipe' }).click();
  await egon.getByRole('option', { name: 'As handed out' }).click();
  await egon.getByRole('combobox', { name: 'Characteristic' }).click();
  await egon.getByRole('option', { name: /^Burst pressure/ }).click();
  for (const strange of await egon.getByRole('combobox', { name: /^Tag .* is$/ }).all()) {
    await strange.click();
    await egon.getByRole('option', { name: 'left out' }).click();
  }
  await egon.getByRole('button', { name: /^Bring in \d+ samples$/ }).click();
  await expect(egon.getByText(/\d+ samples stored/)).toBeVisible({ timeout: 60_000 });
  const after = await readings(nuvek.database, 'Burst pressure');
  const told = (all: typeof after) => all.map((one) => one.readings);
  expect(told(after)).toEqual(told(before).flatMap((one) => [one, one]));

  // A matrix needs two tags, and says so.
  await egon.goBack();
  await egon.goto(`${nuvek.url}/data/out`);
  await expect(egon.getByText('Choose a characteristic')).toBeVisible();
  await egon.getByRole('combobox', { name: 'Characteristics' }).fill('Leak-test');
  await egon
    .getByRole('option', { name: /^Leak-test failures/ })
    .first()
    .click();
  await egon.getByRole('radio', { name: /^One reading/ }).check();
  await expect(egon.getByText(/a row a sample/)).toBeVisible();
  await egon.getByRole('radio', { name: /^One value of a tag/ }).check();
  await expect(egon.getByText('Name the two tags.')).toBeVisible();
  await egon.getByLabel('Tag of the rows').fill('shift');
  await egon.getByLabel('Tag of the columns').fill('shift');
  await expect(egon.getByRole('table').getByRole('columnheader', { name: 'shift' })).toBeVisible();
});

test('who may only read hands out as well; a technician finds it by the chart', async ({ browser, nuvek }) => {
  for (const login of ['rita', 'tilda']) {
    const context = await browser.newContext();
    const page = await context.newPage();
    await page.goto(nuvek.url);
    await page.getByLabel('Name').fill(login);
    await page.getByLabel('Password').fill('tarn-valley');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.getByRole('link', { name: 'Charts' }).first().click();
    await page.locator('a[href^="/charts/"]').first().click();
    await page.getByRole('button', { name: /^Take along/ }).click();
    await page.getByRole('menuitem', { name: /in another shape/ }).click();
    await expect(page.getByRole('table').getByRole('columnheader', { name: 'sample', exact: true })).toBeVisible();
    await expect(page.getByRole('link', { name: 'ODS' })).toBeVisible();
    await context.close();
  }
});
