import { expect, openEntry, signedIn, test } from '../support/test';
import { report } from './report';

/** Prints how long it takes from a key to the point in pencil, and from saving to another screen. */
test('from key to pencil, from save to screen', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  const other = await signedIn(browser, nuvek.url, 'sanna');
  await openEntry(page, /Burst pressure/);
  await other.goto(`${nuvek.url}/charts?find=Burst`);
  await other.getByRole('link', { name: /Burst pressure/ }).click();
  await other.getByText(/samples in all/).waitFor();

  // The clock runs in the page, from the event of the key to the change of the drawn point.
  await page.evaluate(() => {
    const found: number[] = [];
    Object.assign(window, { found });
    let pressed = 0;
    document.addEventListener('input', () => (pressed = performance.now()), true);
    new MutationObserver(() => {
      if (pressed > 0) found.push(performance.now() - pressed);
      pressed = 0;
    }).observe(document.body, { subtree: true, childList: true, attributes: true, attributeFilter: ['data-value'] });
  });
  const pencil = page.getByTestId('pencil-mean');
  for (let i = 0; i < 100; i++) {
    const value = (18 + (i % 50) / 10).toFixed(1);
    await page.getByLabel('Piece 1').fill(value);
    await expect(pencil).toHaveAttribute('data-value', String(Number(value)));
  }
  const keys = await page.evaluate(() => (window as unknown as { found: number[] }).found);
  report('key to pencil', keys);

  const entry = page.url();
  const saves: number[] = [];
  for (let i = 0; i < 20; i++) {
    await page.getByLabel('Piece 1').fill('20.1');
    await page.getByLabel('Piece 2').fill('20.9');
    const started = Date.now();
    await page.getByLabel('Piece 2').press('Enter');
    await other.getByText(`${19 + i} samples in all`).waitFor();
    saves.push(Date.now() - started);
    await page.goto(entry);
    await page.getByLabel('Piece 1').waitFor();
  }
  report('save to another screen', saves);
});
