import type { Page } from '@playwright/test';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

interface Kept {
  center: number;
  sigma: number;
  upper: number | null;
  basis: { from: string; source?: string };
}

async function idOf(database: string, name: string): Promise<string> {
  const [found] = await query<{ id: string }>(database, 'select id from characteristic where name = $1 limit 1', [
    name,
  ]);
  return found?.id ?? '';
}

const latest = (database: string, id: string) =>
  query<Kept>(
    database,
    `select l.center, l.sigma, l.upper, l.basis from limits l join phase p on p.id = l.phase_id
     where p.characteristic_id = $1 and l.put_in_force_at is not null order by p.starts_at desc limit 1`,
    [id],
  ).then(([row]) => row);

/** The form begins anew with a phase, and takes a list that was open along; then it is opened again. */
async function from(page: Page, basis: string) {
  const form = page.getByRole('form', { name: 'Put in force' });
  await expect(async () => {
    await form.getByRole('combobox', { name: 'Where they come from' }).click({ timeout: 5_000 });
    await page.getByRole('option', { name: basis, exact: true }).click({ timeout: 5_000 });
  }).toPass();
  return form;
}

test('limits are given with their source, constant on one side, chosen by number, or copied from a twin', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  const id = await idOf(nuvek.database, 'Bead weight');
  await page.goto(`${nuvek.url}/charts/${id}/limits`);
  let form = await from(page, 'Given figures');
  await form.getByLabel('Centre').fill('4.8');
  await form.getByLabel('Sigma', { exact: true }).fill('0');
  await form.getByLabel('Constant LCL').fill('5');
  await form.getByLabel('Constant UCL').fill('4.9');
  await form.getByRole('button', { name: 'Put in force' }).click();
  await expect(form.getByText('Say where the figures come from.')).toBeVisible();
  await form.getByLabel('Where the figures come from').fill('The data sheet of the balance.');
  await form.getByRole('button', { name: 'Put in force' }).click();
  await expect(form.getByText('The lower limit lies below the upper one.').first()).toBeVisible();
  await form.getByLabel('Constant LCL').fill('');
  await form.getByRole('button', { name: 'Put in force' }).click();
  await expect(form.getByText(/Sigma needs a figure/).first()).toBeVisible();
  await form.getByLabel('Sigma', { exact: true }).fill('0.05');
  await form.getByRole('button', { name: 'Put in force' }).click();
  await expect(page.getByText('The limits are in force.')).toBeVisible();
  expect(await latest(nuvek.database, id)).toMatchObject({
    center: 4.8,
    sigma: 0.05,
    upper: 4.9,
    basis: { from: 'given', source: 'The data sheet of the balance.' },
  });

  // The form begins anew with the phase that these began.
  await expect(form.getByLabel('Centre')).toHaveCount(0);

  // Some samples by their numbers, without setting the others aside.
  form = await from(page, 'Some of them, by number');
  await form.getByLabel('Samples, by number, with commas').fill('1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12');
  await form.getByLabel('They hold from sample number').fill('13');
  await form.getByLabel('Name', { exact: true }).fill('Since the first week');
  const why = form.getByLabel('Why they are put in force all the same');
  if (await why.isVisible()) await why.fill('Known good.');
  await form.getByRole('button', { name: 'Put in force' }).click();
  await expect(page.getByRole('region', { name: 'Phases' })).toContainText('Since the first week');
  expect((await latest(nuvek.database, id))?.basis.from).toBe('chosen');
  const aside = await query(nuvek.database, 'select 1 from sample where characteristic_id = $1 and aside', [id]);
  expect(aside).toEqual([]);

  // The limits of a twin.
  const twin = await idOf(nuvek.database, 'Flow rate');
  await page.goto(`${nuvek.url}/charts/${await idOf(nuvek.database, 'Burst pressure')}/limits`);
  form = await from(page, 'Another characteristic');
  await form.getByRole('combobox', { name: 'Copy the limits of' }).click();
  await page.getByRole('option', { name: /^Flow rate/ }).click();
  await form.getByRole('button', { name: 'Put in force' }).click();
  await expect(page.getByText('The limits are in force.')).toBeVisible();
  const copied = await latest(nuvek.database, await idOf(nuvek.database, 'Burst pressure'));
  const original = await latest(nuvek.database, twin);
  expect([copied?.center, copied?.sigma]).toEqual([original?.center, original?.sigma]);
});

test('a phase begins at a point with given figures', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  const id = await idOf(nuvek.database, 'Peak temperature');
  await page.goto(`${nuvek.url}/charts/${id}`);
  await page.getByRole('group', { name: /Control chart/ }).focus();
  await page.keyboard.press('End');
  for (let i = 0; i < 9; i++) await page.keyboard.press('ArrowLeft');
  await page.getByRole('button', { name: 'Start a phase here …' }).click();
  await page.getByLabel('Name of the phase').fill('After the service');
  await page.getByRole('combobox', { name: 'Limits of the phase' }).click();
  await page.getByRole('option', { name: 'Given figures' }).click();
  await page.getByRole('button', { name: 'Start the phase' }).click();
  await expect(page.getByText('Say where the figures come from.')).toBeVisible();
  await page.getByLabel('Centre').fill('1120');
  await page.getByRole('textbox', { name: 'Sigma' }).fill('5');
  await page.getByLabel('Where the figures come from').fill('The service report.');
  await page.getByRole('button', { name: 'Start the phase' }).click();
  await expect(page.getByText('After the service · in force')).toBeVisible();
  expect(await latest(nuvek.database, id)).toMatchObject({ center: 1120, sigma: 5, basis: { from: 'given' } });
});
