import { query } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

test('a rare event is set up, entered by units and by its time, and never due', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.goto(`${nuvek.url}/plan/characteristics/new`);
  await page.getByLabel('Name', { exact: true }).fill('Dropped trays');
  await page.getByRole('combobox', { name: 'What do you record?' }).click();
  await page.getByRole('option', { name: /^That something rare happened/ }).click();
  await expect(page.getByText('Units between events (g) fits.')).toBeVisible();
  await expect(page.getByLabel('When is a sample due?')).toHaveCount(0);
  await page.getByLabel('What conforms between two').fill('trays');
  await page.getByRole('button', { name: 'Set it up' }).click();
  await expect(page.getByText('Dropped trays is set up')).toBeVisible();

  const technician = await signedIn(browser, nuvek.url, 'tilda');
  await expect(technician.getByRole('link', { name: /^Dropped trays/ })).toContainText('when it happens');
  await openEntry(technician, /^Dropped trays/);
  const units = technician.getByLabel('How many trays conformed since the one before');
  await expect(units).toBeFocused();
  await technician.keyboard.type('12.5');
  await technician.keyboard.press('Enter');
  await expect(technician.getByText('“12.5” is no whole number from 0 up.')).toBeVisible();
  await expect(units).toHaveValue('12.5');
  await units.fill('125');
  await technician.keyboard.press('Enter');
  await expect(technician.getByText('Sample 1 is saved.')).toBeVisible();
  await expect(technician.getByText(/Last sample 1, .*: 125 trays since the one before/)).toBeVisible();
  await expect(units).toBeFocused();

  // One that is entered by its time, and later than the one after it.
  const kept = async () =>
    (
      await query<{ distance: number }>(
        nuvek.database,
        `select s.distance from sample s join characteristic c on c.id = s.characteristic_id
         where c.name = 'Burner trips' and not s.gap order by s.taken_at desc, s.number desc limit 3`,
      )
    ).map(({ distance }) => distance);
  const [last] = await kept();
  await technician.goto(`${nuvek.url}/rounds`);
  await openEntry(technician, /^Burner trips/);
  // An hour before the last one, by the clock of the site.
  const [newest] = await query<{ at: string }>(
    nuvek.database,
    `select to_char((taken_at - interval '1 hour') at time zone (select time_zone from site limit 1), 'YYYY-MM-DD"T"HH24:MI') as at
     from sample s join characteristic c on c.id = s.characteristic_id where c.name = 'Burner trips' order by taken_at desc limit 1`,
  );
  const when = technician.getByLabel('When did it happen');
  await when.fill(newest?.at ?? '');
  await technician.getByRole('button', { name: 'Save sample' }).click();
  await expect(technician.getByText(/Sample \d+ is saved/)).toBeVisible();
  const [after, late] = await kept();
  expect(after).toBeCloseTo(1, 1);
  expect((after ?? 0) + (late ?? 0)).toBeCloseTo(last ?? 0, 6);
  // The one after it comes too soon now. It is asked about, or stands in review where it lies before the running shift.
  await technician.goto(`${nuvek.url}/signals?state=all`);
  await expect(
    technician
      .getByRole('link', { name: /lies closer to the event before than the lower control limit allows/ })
      .first(),
  ).toBeVisible();
  await technician.goto(`${nuvek.url}/rounds`);
  await openEntry(technician, /^Burner trips/);
  // The very same moment is refused, and what was typed is still there.
  await when.fill(newest?.at ?? '');
  await technician.getByRole('button', { name: 'Save sample' }).click();
  await expect(technician.getByText('An event was entered for this very moment.')).toBeVisible();
  await expect(when).toHaveValue(newest?.at ?? '');
  expect((await kept())[0]).toBeCloseTo(after ?? 0, 6);
});

test('parts of short runs share a chart, and each sample names its part', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /^Collar height/);
  await expect(page.getByText('Mean, from nominal')).toBeVisible();
  await page.getByLabel('Part').selectOption('');
  for (const piece of [1, 2, 3]) await page.getByLabel(`Piece ${piece}`).fill('20.41');
  await page.getByRole('button', { name: 'Save sample' }).click();
  await expect(page.getByText('Choose the part.')).toBeVisible();
  // A reading of one part is unusual of another.
  await page.getByLabel('Part').selectOption('Collar 40');
  await page.getByRole('button', { name: 'Save sample' }).click();
  await expect(
    page.getByText(/Piece 1: 20.41 mm is unusual; values between 40\.\d+ and 41\.\d+ are usual here/),
  ).toBeVisible();
  await page.getByLabel('Part').selectOption('Collar 20');
  await page.getByRole('button', { name: 'Save sample' }).click();
  await expect(page.getByText(/Sample \d+ is saved/)).toBeVisible();
  // The part is remembered for the next sample of the order.
  await expect(page.getByLabel('Part')).toHaveValue('Collar 20');
});
