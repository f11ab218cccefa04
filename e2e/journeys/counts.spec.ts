import { query } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

const newest = (database: string, name: string) =>
  query<{ inspected: number; count: number; words: string | null; tags: Record<string, string> }>(
    database,
    `select s.inspected, s.count, s.defects->-1->>'word' as words, s.tags
     from sample s join characteristic c on c.id = s.characteristic_id
     where c.name = $1 order by s.number desc limit 1`,
    [name],
  );

test('a count of leaking cartridges needs no mouse and grows in pencil', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  let keys = 0;
  const press = async (key: string) => {
    keys += 1;
    await page.keyboard.press(key);
  };
  await openEntry(page, /Leak-test failures/);
  const pencil = page.getByTestId('pencil-proportion');
  await expect(page.getByLabel('How many cartridges were inspected')).toBeFocused();
  await press('5');
  await press('0');
  await expect(pencil).toHaveAttribute('data-value', '0');
  await press('Enter');
  await press('e');
  await press('e');
  await press('w');
  await expect(pencil).toHaveAttribute('data-value', '0.06');
  await press('u');
  await expect(page.getByText('2 of 50 do not conform')).toBeVisible();
  await press('Enter');
  await expect(page.getByText(/Sample \d+ is saved/)).toBeVisible();
  expect(keys).toBe(8);
  expect(await newest(nuvek.database, 'Leak-test failures')).toMatchObject([{ inspected: 50, count: 2 }]);
});

test('flaws are tapped, another kind goes by its word, and tags stay with the sample', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Pinholes/);
  await expect(page.getByText('Every flaw counts; one of the cartridges may have several.')).toBeVisible();
  await page.getByRole('button', { name: /Bubble/ }).click();
  await page.getByRole('button', { name: /Other/ }).click();
  await page.getByLabel('The other kind, in a word').fill('Grit');
  await page.keyboard.press('Enter');
  await page.keyboard.type('3d');
  await expect(page.getByText('5 flaws on 10 cartridges')).toBeVisible();
  // What was counted is there again after the page was left.
  await page.reload();
  await expect(page.getByText('5 flaws on 10 cartridges')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('2 flaws on 10 cartridges')).toBeVisible();
  await page.getByRole('button', { name: 'Save sample' }).click();
  await expect(page.getByText(/Sample \d+ is saved/)).toBeVisible();
  expect(await newest(nuvek.database, 'Pinholes')).toMatchObject([{ inspected: 10, count: 2, words: 'Grit' }]);
});

test('more nonconforming units than were inspected are refused in their own words', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Leak-test failures/);
  await page.keyboard.type('4');
  await page.keyboard.press('Enter');
  await page.keyboard.type('5e');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/5 do not conform, but only 4 were inspected/)).toBeVisible();
  await expect(page.getByText('5 of 4 do not conform')).toBeVisible();
});

test('a five-piece sample costs its digits and five Enters, a column can be pasted, a piece left out', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  await openEntry(page, /Wall thickness.*C-20/);
  await page.getByRole('textbox', { name: 'Mould' }).fill('M2');
  await page.getByLabel('Piece 1').focus();
  let keys = 0;
  for (const reading of ['6.31', '6.28', '6.42', '6.35', '6.30']) {
    for (const key of [...reading, 'Enter']) {
      keys += 1;
      await page.keyboard.press(key);
    }
  }
  expect(keys).toBe(5 * 4 + 5);
  await expect(page.getByText(/Sample \d+ is saved/)).toBeVisible();
  // The mould is remembered; a column from a sheet fills the pieces from where the focus is.
  await expect(page.getByRole('textbox', { name: 'Mould' })).toHaveValue('M2');
  await page.getByLabel('Piece 1').evaluate((field) => {
    const data = new DataTransfer();
    data.setData('text', '6,31\n6,28\n6,42\n6,35');
    field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect(page.getByLabel('Piece 4')).toHaveValue('6,35');
  await page.getByRole('button', { name: 'Save sample' }).click();
  await expect(page.getByText('Piece 5 has no reading.')).toBeVisible();
  await page.getByRole('button', { name: 'Leave out on purpose' }).press('Enter');
  await expect(page.getByLabel('Piece 4')).toHaveValue('');
  const readings = await query<{ readings: (number | null)[]; mould: string }>(
    nuvek.database,
    `select s.readings, s.tags->>'mould' as mould from sample s join characteristic c on c.id = s.characteristic_id
     join station t on t.id = c.station_id
     where c.name = 'Wall thickness' and t.name = 'Casting line 1' order by s.number desc limit 1`,
  );
  expect(readings).toEqual([{ readings: [6.31, 6.28, 6.42, 6.35, null], mould: 'M2' }]);
});
