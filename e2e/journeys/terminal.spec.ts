import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, openEntry, PASSWORD, signedIn, signIn, test } from '../support/test';

const PIN = '2580';

async function setSecret(page: Page, what: 'PIN' | 'Badge', secret: string) {
  await page.goto(new URL('/me', page.url()).toString());
  const part = page.getByRole('region', { name: what });
  await part.getByLabel(`New ${what}`).fill(secret);
  await part.getByLabel('Your password').fill(PASSWORD);
  await part.getByRole('button', { name: `Set the ${what}` }).click();
  await expect(part.getByText(`The ${what} is set.`)).toBeVisible();
}

/** Tilda with a PIN and Milo with a badge on one screen, Tilda there. */
async function sharedTerminal(page: Page) {
  await setSecret(page, 'PIN', PIN);
  await page.getByRole('button', { name: 'Sign out' }).click();
  await page.getByRole('button', { name: 'Name and password' }).click();
  await signIn(page, 'milo');
  await page.getByRole('heading', { name: /^Milo/, level: 1 }).waitFor();
  await setSecret(page, 'Badge', '04A9C1D7');
  await page.getByRole('combobox', { name: 'Locks' }).click();
  await page.getByRole('option', { name: 'After a minute without a touch' }).click();
  await page.getByRole('button', { name: 'Switch person' }).click();
  await page.getByRole('button', { name: 'Tilda Testwell' }).click();
  await page.keyboard.type(PIN);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('link', { name: 'Tilda Testwell, technician' })).toBeVisible();
}

test('two people take turns on one screen; each finds what they typed', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await sharedTerminal(page);
  await page.goto(`${nuvek.url}/rounds`);
  await openEntry(page, /Burst pressure/);
  await page.keyboard.type('20.1');
  await page.getByRole('button', { name: 'Switch person' }).click();
  await expect(page.getByRole('heading', { name: 'Locked' })).toBeVisible();
  expect(await barriers(page)).toEqual([]);
  expect(await query(nuvek.database, 'select 1 from session')).toHaveLength(0);

  // A badge on the reader types its number and Enter.
  await page.keyboard.type('04A9C1D7');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Milo', { exact: false }).first()).toBeVisible();
  await expect(page.getByLabel('Piece 1')).toHaveValue('');
  await page.getByLabel('Piece 1').fill('19.8');
  await page.keyboard.press('Enter');
  await page.keyboard.type('19.9');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Sample 19 is saved/)).toBeVisible();

  await page.getByRole('button', { name: 'Switch person' }).click();
  await page.getByRole('button', { name: 'Tilda Testwell' }).click();
  await page.keyboard.type(PIN);
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Piece 1')).toHaveValue('20.1');
  const [saved] = await query<{ login: string }>(
    nuvek.database,
    `select p.login from sample s join person p on p.id = s.person_id join characteristic c on c.id = s.characteristic_id
     where c.name = 'Burst pressure' order by s.number desc limit 1`,
  );
  expect(saved?.login).toBe('milo');
});

test('a screen that nobody touches locks, and opens where it was; wrong PINs run out', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await sharedTerminal(page);
  await page.goto(`${nuvek.url}/rounds`);
  await page.clock.install();
  await openEntry(page, /Burst pressure/);
  await page.keyboard.type('20.1');
  await page.keyboard.press('Enter');
  await page.keyboard.type('20.');
  await page.clock.fastForward(59_000);
  await page.keyboard.type('3');
  await page.clock.fastForward(59_000);
  await expect(page.getByRole('heading', { name: 'Locked' })).toHaveCount(0);
  await page.clock.fastForward(2_000);
  await expect(page.getByRole('heading', { name: 'Locked' })).toBeVisible();
  await expect(page.getByLabel('Piece 2')).toBeHidden();
  await page.getByRole('button', { name: 'Tilda Testwell' }).click();
  for (const left of [
    'Four more tries.',
    'Three more tries.',
    'Two more tries.',
    'One more try.',
    'Only the password helps now.',
  ]) {
    await page.getByLabel('PIN').fill('0852');
    await page.keyboard.press('Enter');
    await expect(page.getByText(left)).toBeVisible();
  }
  await page.getByLabel('PIN').fill(PIN);
  await page.keyboard.press('Enter');
  await expect(page.getByText(/The PIN was wrong too often/)).toBeVisible();
  await page.getByRole('button', { name: 'Name and password' }).click();
  await signIn(page, 'tilda');
  await expect(page.getByLabel('Piece 1')).toHaveValue('20.1');
  await expect(page.getByLabel('Piece 2')).toHaveValue('20.3');
});
