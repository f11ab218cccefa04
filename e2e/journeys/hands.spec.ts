import { devices } from '@playwright/test';
import { query } from '../support/nuvek';
import { expect, openEntry, signedIn, signIn, test } from '../support/test';

test('on a tablet a sample is entered with the numeric pad alone', async ({ browser, nuvek }) => {
  const { defaultBrowserType: _, ...tablet } = devices['iPad (gen 7) landscape'];
  const context = await browser.newContext(tablet);
  const page = await context.newPage();
  await page.goto(nuvek.url);
  await signIn(page, 'tilda');
  await page.getByRole('link', { name: /Burst pressure/ }).tap();
  const pad = page.getByRole('group', { name: 'Numeric pad' });
  await expect(pad).toContainText(/Piece 1, in bar, last time \d+\.\d/);
  for (const key of ['2', '0', 'Decimal point', '9', 'Erase', '1', 'Next', '2', '0', 'Decimal point', '3']) {
    await pad.getByRole('button', { name: key, exact: true }).tap();
  }
  await expect(page.getByLabel('Piece 1')).toHaveValue('20.1');
  const size = await pad.getByRole('button', { name: '5', exact: true }).boundingBox();
  expect(Math.min(size?.width ?? 0, size?.height ?? 0)).toBeGreaterThanOrEqual(48);
  await pad.getByRole('button', { name: 'Save' }).tap();
  await expect(page.getByText(/Sample 19 is saved/)).toBeVisible();
  const [saved] = await query<{ readings: number[] }>(
    nuvek.database,
    `select readings from sample s join characteristic c on c.id = s.characteristic_id where c.name = 'Burst pressure' and s.number = 19`,
  );
  expect(saved?.readings).toEqual([20.1, 20.3]);
});

test('a gauge that ends its values with Tab saves; a hand on Tab goes on', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Burst pressure/);
  /** Types as fast as a gauge does, a key every five milliseconds by the clock of the keys, however slow the page is. */
  const gauge = (text: string) =>
    page.evaluate((signs) => {
      const field = document.activeElement as HTMLInputElement;
      const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set;
      let at = performance.now();
      const press = (key: string) => {
        const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true });
        Object.defineProperty(event, 'timeStamp', { value: (at += 5) });
        field.dispatchEvent(event);
      };
      for (const sign of signs) {
        press(sign);
        set?.call(field, field.value + sign);
        field.dispatchEvent(new Event('input', { bubbles: true }));
      }
      press('Tab');
    }, Array.from(text));
  await gauge('20.1 bar');
  await expect(page.getByLabel('Piece 2')).toBeFocused();
  await page.keyboard.type('20.3', { delay: 90 });
  await page.keyboard.press('Tab');
  await expect(page.getByLabel('Piece 2')).not.toBeFocused();
  await expect(page.getByText(/is saved/)).toHaveCount(0);
  await page.getByLabel('Piece 2').fill('');
  await page.getByLabel('Piece 1').focus();
  await page.getByLabel('Piece 2').focus();
  await gauge('20.3');
  await expect(page.getByText(/Sample 19 is saved/)).toBeVisible();
});

test('components of a feature are light traces without limits, and can be hidden', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await page.goto(`${nuvek.url}/charts?find=Cap`);
  await page.getByRole('link', { name: /Cap position/ }).click();
  const traces = page.getByTestId('traces');
  await expect(traces).toContainText(/Reference components.*X −?\d\.\d{3}.*Y −?\d\.\d{3}/);
  await page.getByRole('button', { name: 'What is drawn …' }).click();
  await page.getByLabel('Reference components').uncheck();
  await expect(traces).toHaveCount(0);
});
