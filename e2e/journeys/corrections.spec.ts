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

test('a sample is corrected by who entered it, withdrawn by a supervisor, and nothing is forgotten', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Burst pressure/);
  await page.keyboard.type('29.1');
  await page.keyboard.press('Enter');
  await page.keyboard.type('20.3');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Keep it, measured so' }).press('Enter');
  await expect(page.getByRole('region', { name: 'Episode' })).toBeVisible();

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
  // A piece is not left out by clearing its field alone.
  await card.getByLabel('Piece 1, bar').fill('');
  await card.getByRole('button', { name: 'Save correction' }).click();
  await expect(card.getByText('Piece 1 has no reading any more.')).toBeVisible();
  await expect(card.getByRole('button', { name: 'Leave out on purpose' })).toBeVisible();
  await card.getByLabel('Piece 1, bar').fill('19.8');
  await card.getByRole('button', { name: 'Save correction' }).click();
  await expect(card.getByText('19.8 20.3 bar')).toBeVisible();
  await expect(card.getByText(/Corrected by Tilda Testwell.*read the wrong line. It said 29.1\s+20.3/)).toBeVisible();
  // The finding no longer holds.
  await expect(card.getByRole('link', { name: /beyond the limit/ })).toHaveCount(0);

  const supervisor = await newestPoint(await signedIn(browser, nuvek.url, 'sanna'), nuvek.url);
  await supervisor.getByRole('button', { name: 'Correct or withdraw' }).click();
  await supervisor.getByRole('button', { name: 'Withdraw the sample' }).click();
  await expect(supervisor.getByText('Say why it is changed, in 1 to 2000 characters.')).toBeVisible();
  await supervisor.getByLabel('Why it is changed').fill('wrong cartridge');
  await supervisor.getByRole('button', { name: 'Withdraw the sample' }).click();
  await expect(supervisor.getByText('Withdrawn by Sanna Samplethorpe: wrong cartridge')).toBeVisible();
  await expect(card.getByText('Withdrawn by Sanna Samplethorpe: wrong cartridge')).toBeVisible();
});

test('a kind that was forgotten is added to a count', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Leak-test failures/);
  await page.keyboard.type('52');
  await page.keyboard.press('Enter');
  await page.keyboard.type('e');
  await page.keyboard.press('Enter');
  const saved = await page.getByText(/Sample \d+ is saved/).textContent();
  await page.getByRole('link', { name: 'Open the whole chart' }).click();
  await page.getByRole('group', { name: /Control chart/ }).press('End');
  const card = page.getByRole('region', { name: /Sample (\d+)/.exec(saved ?? '')?.[0] ?? '', exact: true });
  await card.getByRole('button', { name: 'Correct or withdraw' }).click();
  await expect(card.getByLabel('End cap')).toHaveValue('1');
  await card.getByLabel('Thread').fill('two');
  await card.getByLabel('Why it is changed').fill('thread was seen later');
  await card.getByRole('button', { name: 'Save correction' }).click();
  await expect(card.getByText('A whole number is needed.')).toBeVisible();
  await card.getByLabel('Thread').fill('2');
  await card.getByRole('button', { name: 'Save correction' }).click();
  await expect(card.getByText(/3 in 52 .*: End cap 1, Thread 2/)).toBeVisible();
});
