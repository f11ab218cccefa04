import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { barriers } from '../support/barriers';
import { BINARY, databaseUrl } from '../support/nuvek';
import { pagesOf } from '../support/pdf';
import { expect, signedIn, test } from '../support/test';

const day = (ago: number) => new Date(Date.now() - ago * 86_400_000).toISOString().slice(0, 10);

test('a report is printed, and each of its pages says what was asked for, by whom and when, with the seal', async ({
  browser,
  nuvek,
}) => {
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  await sanna.getByRole('navigation').getByRole('link', { name: 'Reports' }).click();
  await expect(sanna.getByText('Choose the first day and the day after the last.')).toBeVisible();
  await sanna.getByLabel('From').fill(day(56));
  await sanna.getByLabel('Before').fill(day(-1));
  await expect(sanna.getByRole('status')).toHaveText(/\d+ lines/);
  expect(await barriers(sanna)).toEqual([]);
  const pages = await pagesOf(await sanna.pdf({ format: 'A4' }));
  expect(pages.length).toBeGreaterThan(2);
  const seal = /seal ([0-9a-f]{64})/.exec((pages[0] ?? '').replaceAll(/(?<=[0-9a-f]) (?=[0-9a-f])/g, ''))?.[1];
  expect(seal).toBeDefined();
  for (const page of pages) {
    expect(page).toContain('Tarn Valley Filterworks · Episodes with answers and reviews');
    expect(page).toContain('Asked for by Sanna Samplethorpe');
    expect(page.replaceAll(/(?<=[0-9a-f]) (?=[0-9a-f])/g, '')).toContain(seal ?? 'none');
  }
  const whole = pages.join(' ');
  expect(whole).toContain('Wall thickness, Cartridge C-40, Casting line 2');
  // What is for the screen alone is not printed.
  for (const word of ['Sign out', 'Download as CSV', 'Rounds']) expect(whole).not.toContain(word);

  // The seal that the pages name is one that the trail can be held against.
  const [download] = await Promise.all([
    sanna.waitForEvent('download'),
    sanna.getByRole('button', { name: 'Download the seal' }).click(),
  ]);
  const file = await download.path();
  expect(createHash('sha256').update(readFileSync(file)).digest('hex')).toBe(seal);
  const said = execFileSync(BINARY, ['verify-trail', '--database', databaseUrl(nuvek.database), '--against', file]);
  expect(said.toString()).toContain('The trail is whole');
});

test('a report is kept to a station, and comes as a table and as a spreadsheet', async ({ browser, nuvek }) => {
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  await sanna.goto(`${nuvek.url}/reports?report=points&from=${day(7)}&until=${day(-1)}`);
  await sanna.getByLabel('Station').click();
  await sanna.getByRole('option', { name: 'Kiln' }).click();
  await expect(sanna.getByRole('status')).toHaveText(/lines?/);
  const table = sanna.getByRole('table');
  await expect(table.getByText(/Peak temperature, \d+/).first()).toBeVisible();
  await expect(table.getByText(/Wall thickness/)).toHaveCount(0);
  for (const [link, begins] of [
    ['Download as CSV', 'characteristic,product,station'],
    ['Download as spreadsheet', 'PK'],
  ] as const) {
    const [download] = await Promise.all([
      sanna.waitForEvent('download'),
      sanna.getByRole('link', { name: link }).click(),
    ]);
    expect(readFileSync(await download.path(), 'latin1').startsWith(begins)).toBe(true);
  }
  await sanna.getByLabel('Before').fill(day(9));
  await expect(sanna.getByText('The period ends before it begins.', { exact: false })).toBeVisible();
});
