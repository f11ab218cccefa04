import { expect, openEntry, signedIn, test } from '../support/test';

test('an event is told in two taps and stands on every chart of the station; a new lot makes its sample due', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  const watching = await signedIn(browser, nuvek.url, 'milo');
  await openEntry(watching, /Flow rate/);
  const marks = watching.getByTestId('event');
  await expect(marks).toHaveCount(0);
  await page.getByRole('button', { name: 'Tell what happened at Leak test' }).click();
  await page.getByRole('button', { name: 'Maintenance' }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(marks).toHaveCount(1);

  await openEntry(page, /Viscosity/);
  await page.keyboard.type('331');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Sample \d+ is saved/)).toBeVisible();
  await page.goto(`${nuvek.url}/rounds`);
  const viscosity = page.getByRole('link', { name: /Viscosity/ });
  await expect(viscosity).toContainText('done, next with a new lot');
  await page.getByRole('button', { name: 'Tell what happened at Slip preparation' }).click();
  await page.getByLabel('Name of the lot').fill('S-121');
  await page.getByRole('button', { name: 'New lot' }).click();
  await expect(viscosity).toContainText('due since');
  await expect(page.getByRole('heading', { name: /lot S-121/ })).toBeVisible();
});

test('a sample is skipped with a reason, which stands on the chart as a gap', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Flow rate/);
  await page.getByRole('button', { name: 'Skip this sample …' }).click();
  await page.getByLabel('Why none is taken').fill('Test bench is being calibrated');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('link', { name: /Flow rate/ })).toContainText('done');
  await page.goto(`${nuvek.url}/charts?find=Flow`);
  await page.getByRole('link', { name: /Flow rate/ }).click();
  await page.getByRole('group', { name: /Control chart/ }).press('End');
  await expect(page.getByText(/Skipped by Tilda Testwell: Test bench is being calibrated/).last()).toBeVisible();
});
