import { barriers } from '../support/barriers';
import { expect, signedIn, test } from '../support/test';

test('one shift leaves words, the next reads what is open and says so, and both see it at once', async ({
  browser,
  nuvek,
}) => {
  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  const milo = await signedIn(browser, nuvek.url, 'milo');
  for (const page of [tilda, milo]) {
    await page.getByRole('navigation').getByRole('link', { name: 'Handover' }).click();
    await expect(page.getByRole('heading', { name: /episodes? (is|are) open now/ })).toBeVisible();
  }
  const words = tilda.getByRole('region', { name: 'Words to the next shift' });
  await words
    .getByRole('textbox', { name: 'What the next shift has to know' })
    .fill('The die of line 2 is at its end.');
  await words.getByLabel('About').click();
  await tilda.getByRole('option', { name: 'Forming' }).click();
  await words.getByRole('button', { name: 'Leave them' }).click();
  await expect(milo.getByText('The die of line 2 is at its end.')).toBeVisible();
  await expect(milo.getByText(/Tilda Testwell, .*, Forming/)).toBeVisible();
  await milo.getByRole('button', { name: 'I have read this' }).click();
  await expect(tilda.getByRole('region', { name: 'Read by' })).toContainText('Milo Mockridge');
  await expect(milo.getByRole('button', { name: 'I have read this' })).toHaveCount(0);
  expect(await barriers(milo)).toEqual([]);

  // The words of one shift do not stand in another.
  await milo.getByRole('link', { name: 'Shift before' }).click();
  await expect(milo.getByText('Nothing was left to say.')).toBeVisible();
  await milo.getByRole('link', { name: 'Shift after' }).click();
  await expect(milo.getByText('The die of line 2 is at its end.')).toBeVisible();

  // Who belongs to the laboratory reads what is for it, and the rest when they ask.
  const lotta = await signedIn(browser, nuvek.url, 'lotta');
  await lotta.getByRole('navigation').getByRole('link', { name: 'Handover' }).click();
  await expect(lotta.getByText('Nothing was left to say.')).toBeVisible();
  await lotta.getByRole('button', { name: 'All stations' }).click();
  await expect(lotta.getByText('The die of line 2 is at its end.')).toBeVisible();
});

test('words that could not be kept stay in their field', async ({ browser, nuvek }) => {
  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  await tilda.getByRole('navigation').getByRole('link', { name: 'Handover' }).click();
  const field = tilda.getByRole('textbox', { name: 'What the next shift has to know' });
  await field.fill('Kiln door sticks.');
  await nuvek.stop();
  await tilda.getByRole('button', { name: 'Leave them' }).click();
  await expect(tilda.getByText('The server cannot be reached.', { exact: true })).toBeVisible();
  await expect(field).toHaveValue('Kiln door sticks.');
  await nuvek.start();
  await tilda.getByRole('button', { name: 'Leave them' }).click();
  await expect(tilda.getByText('Kiln door sticks.')).toBeVisible();
  await expect(field).toHaveValue('');
});
