import type { Page } from '@playwright/test';
import { expect, openEntry, signedIn, test } from '../support/test';

/** Opens the newest point of the burst pressure chart. */
async function newestPoint(page: Page, url: string) {
  await page.goto(`${url}/charts?find=Burst`);
  await page.getByRole('link', { name: /Burst pressure/ }).click();
  await page.getByRole('group', { name: /Control chart/ }).press('End');
  const card = page.getByRole('region', { name: 'Sample 19', exact: true });
  await card.waitFor();
  return card;
}

test('a sample is corrected by who entered it, withdrawn by a supervisor, and nothing is forgotten', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Burst pressure/);
  await page.keyboard.type('29.1');
  await page.keyboard.press('Enter');
  await page.keyboard.type('20.3');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Keep it, measured so' }).press('Enter');
  await expect(page.getByRole('region', { name: 'Signal' })).toBeVisible();

  const other = await newestPoint(await signedIn(browser, nuvek.url, 'milo'), nuvek.url);
  await other.getByRole('button', { name: 'Correct or withdraw' }).click();
  await other.getByLabel('Why it is changed').fill('looks high');
  await other.getByRole('button', { name: 'Withdraw the sample' }).click();
  await expect(other.getByText('Who entered a sample may change it, or a supervisor.')).toBeVisible();

  const card = await newestPoint(page, nuvek.url);
  await expect(card.getByRole('link', { name: /range: beyond the limit, high/ })).toBeVisible();
  await card.getByRole('button', { name: 'Correct or withdraw' }).click();
  await card.getByLabel('Piece 1, bar').fill('x');
  await card.getByLabel('Why it is changed').fill('read the wrong line');
  await card.getByRole('button', { name: 'Save correction' }).click();
  await expect(card.getByText(/“x” is not a number/)).toBeVisible();
  await card.getByLabel('Piece 1, bar').fill('19.8');
  await card.getByRole('button', { name: 'Save correction' }).click();
  await expect(card.getByText('19.8 20.3 bar')).toBeVisible();
  await expect(card.getByText(/Corrected by Tilda Testwell.*read the wrong line. It said 29.1\s+20.3/)).toBeVisible();
  // The finding no longer holds.
  await expect(card.getByRole('link', { name: /beyond the limit/ })).toHaveCount(0);

  const supervisor = await newestPoint(await signedIn(browser, nuvek.url, 'sanna'), nuvek.url);
  await supervisor.getByRole('button', { name: 'Correct or withdraw' }).click();
  await supervisor.getByRole('button', { name: 'Withdraw the sample' }).click();
  await expect(supervisor.getByText(/reason: a text of 1 to 2000 characters is needed/)).toBeVisible();
  await supervisor.getByLabel('Why it is changed').fill('wrong cartridge');
  await supervisor.getByRole('button', { name: 'Withdraw the sample' }).click();
  await expect(supervisor.getByText('Withdrawn by Sanna Samplethorpe: wrong cartridge')).toBeVisible();
  await expect(card.getByText('Withdrawn by Sanna Samplethorpe: wrong cartridge')).toBeVisible();
});
