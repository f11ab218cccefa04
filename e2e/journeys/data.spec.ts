import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

const lines = (header: string, rows: number, row: (i: number) => string) =>
  [header, ...Array.from({ length: rows }, (_, i) => row(i))].join('\r\n') + '\r\n';

const two = (n: number) => String(n).padStart(2, '0');

/** Sends a table and waits for the samples as they would be. */
async function send(page: Page, url: string, name: string, table: string) {
  await page.goto(`${url}/data`);
  await page.getByLabel('Choose a file').setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(table) });
  await page.getByRole('heading', { name, level: 1 }).waitFor();
}

async function pick(page: Page, label: string, option: string | RegExp) {
  await page.getByRole('combobox', { name: label }).click();
  await page.getByRole('option', { name: option, exact: typeof option === 'string' }).click();
}

/** Says what a column is. */
async function mark(page: Page, column: string, part: string) {
  await page.getByRole('button', { name: new RegExp(`^${column}: `) }).click();
  await page.getByRole('menuitem', { name: part, exact: true }).click();
}

interface Case {
  shape: string;
  table: string;
  /** Changes what was proposed. */
  change: (page: Page) => Promise<void>;
  into: RegExp;
  /** Whether the table tells no times. */
  untimed?: boolean;
  /** After the characteristic was chosen. */
  then?: (page: Page) => Promise<void>;
  samples: number;
}

const chosen = (page: Page, sentence: string) => page.getByRole('radio', { name: sentence }).check();

const CASES: readonly Case[] = [
  {
    shape: 'across',
    table: lines('taken;s1;s2;s3;s4;remark', 12, (i) => `05.01.2026 ${two(i)}:30;11,9${i % 9};12,0;12,1;11,95;r${i}`),
    change: async (page) => {
      await expect(page.getByText('Several columns hold numbers of one size')).toBeVisible();
      await expect(page.getByRole('radio', { name: 'Each row is one sample' })).toBeChecked();
    },
    into: /^Firing shrinkage/,
    samples: 12,
  },
  {
    shape: 'grouped',
    table: lines(
      'batch,taken,weight',
      24,
      (i) => `B${Math.floor(i / 3)},2026-01-05 ${two(Math.floor(i / 3))}:10,6.0${i % 8}`,
    ),
    change: async (page) => {
      await expect(page.getByRole('radio', { name: 'Rows that agree are one sample' })).toBeChecked();
    },
    into: /^Bead weight/,
    samples: 8,
  },
  {
    shape: 'column',
    table: lines('flow', 15, (i) => String(850 + (i % 7))),
    change: async (page) => {
      await chosen(page, 'Every so many rows are one sample');
      await page.getByLabel('Rows a sample').fill('3');
    },
    into: /^Flow rate/,
    untimed: true,
    samples: 5,
  },
  {
    shape: 'down',
    table: lines(Array.from({ length: 14 }, (_, i) => `h${i}`).join('\t'), 2, (i) =>
      Array.from({ length: 14 }, (_, column) => `2${column % 3}.${i}`).join('\t'),
    ),
    change: async (page) => {
      await expect(page.getByRole('radio', { name: 'Each column is one sample' })).toBeChecked();
      await pick(page, 'Cells are parted by', 'tab');
    },
    into: /^Burst pressure/,
    untimed: true,
    samples: 14,
  },
  {
    shape: 'crossed',
    table: lines('charge,top,middle,bottom', 4, (i) => `C${i},33${i},33${i + 1},33${i + 2}`),
    change: (page) => chosen(page, 'Rows and columns have labels'),
    into: /^Viscosity/,
    untimed: true,
    samples: 12,
  },
  {
    shape: 'counts',
    table: lines('date,lot,leaking,tested', 9, (i) => `2026-01-${two(i + 5)},L-${i},${i % 3},50`),
    change: async (page) => {
      await expect(page.getByRole('radio', { name: 'Each row counts things' })).toBeChecked();
    },
    into: /^Leak-test failures/,
    samples: 9,
  },
  {
    shape: 'period',
    table: lines('at,peak', 30, (i) => `2026-01-${two(5 + Math.floor(i / 6))} ${two(i % 6)}:00,${1110 + (i % 11)}`),
    change: async (page) => {
      await chosen(page, 'Rows are drawn together over time');
      await pick(page, 'Take', 'the largest');
    },
    into: /^Peak temperature/,
    samples: 5,
  },
];

test('a table of each shape is seen as samples, brought in, and stands on its chart', async ({ browser, nuvek }) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  for (const { shape, table, change, into, untimed, samples } of CASES) {
    await test.step(shape, async () => {
      await send(egon, nuvek.url, `${shape}.csv`, table);
      await change(egon);
      const asWillBe = egon.getByRole('region', { name: 'The samples as they will be' }).first();
      await expect(asWillBe.getByRole('status').filter({ hasText: `${samples} samples.` })).toBeVisible();
      await pick(egon, 'Characteristic', into);
      if (untimed) {
        await egon.getByLabel('First sample taken').fill('2026-01-05T06:00');
        await egon.getByLabel('Minutes from one to the next').fill('30');
      }
      // Tags that are not asked for here are left out by hand.
      for (const strange of await egon.getByRole('combobox', { name: /^Tag .* is$/ }).all()) {
        await strange.click();
        await egon.getByRole('option', { name: 'left out' }).click();
      }
      await egon.getByRole('button', { name: `Bring in ${samples} samples` }).click();
      await expect(egon.getByText(`${samples} samples stored`)).toBeVisible({ timeout: 60_000 });
      await egon.getByRole('link', { name: 'To the chart' }).click();
      await egon.getByRole('group', { name: /Control chart/ }).waitFor();
      const stored = await query<{ n: string }>(
        nuvek.database,
        'select count(*) as n from sample s join import i on i.id = s.import_id where i.file_name = $1',
        [`${shape}.csv`],
      );
      expect(stored[0]?.n).toBe(String(samples));
    });
  }
  await egon.goto(`${nuvek.url}/data`);
  await expect(egon.getByRole('table', { name: 'Brought in' }).getByRole('row')).toHaveCount(CASES.length + 1);
});

test('what is wrong is marked at its cell; a mark is moved; a grown list stores what is new; a recipe is kept', async ({
  browser,
  nuvek,
}) => {
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  const row = (i: number) => `2026-01-${two(5 + i)} 06:00,night,${i === 2 ? '1110 C' : 1110 + i},${90 + i}`;
  await send(sanna, nuvek.url, 'kiln.csv', lines('at,crew,peak,soak', 6, row));
  await mark(sanna, 'soak', 'left out');
  const sheet = sanna.getByRole('region', { name: 'The sheet' }).first();
  await expect(sheet.getByTitle('Row 4, peak: “1110 C” is not a number as decimals are set.')).toBeVisible();
  await expect(sanna.getByText('One cell cannot be read; its sample is left out.')).toBeVisible();
  // The mark of the readings is carried to another column, and back.
  const head = (column: string) => sanna.getByRole('button', { name: new RegExp(`^${column}: `) });
  await head('peak').dragTo(head('soak'));
  await expect(head('soak')).toContainText('reading');
  await expect(sanna.getByText('One cell cannot be read')).toBeHidden();
  await head('soak').dragTo(head('peak'));
  await pick(sanna, 'Characteristic', /^Peak temperature/);
  await pick(sanna, 'Tag “crew” is', 'left out');
  await expect(sanna.getByRole('button', { name: 'Bring in 5 samples' })).toBeDisabled();
  await sanna.getByRole('checkbox', { name: 'Bring in only what is right' }).check();
  for (const dark of [false, true]) {
    await sanna.emulateMedia({ colorScheme: dark ? 'dark' : 'light' });
    expect(await barriers(sanna)).toEqual([]);
  }
  await sanna.getByRole('button', { name: 'Keep this recipe' }).click();
  await sanna.getByLabel('Name of the recipe').fill('Kiln by day');
  await sanna.keyboard.press('Enter');
  await expect(sanna.getByText('Kept. The next file can be read by it.')).toBeVisible();
  await sanna.getByRole('button', { name: 'Bring in 5 samples' }).click();
  await expect(sanna.getByText('5 samples stored')).toBeVisible();

  const grown = lines('at,crew,peak,soak', 8, (i) => row(i).replace(' C', ''));
  await send(sanna, nuvek.url, 'kiln.csv', grown);
  await pick(sanna, 'Recipe', 'Kiln by day');
  await pick(sanna, 'Characteristic', /^Peak temperature/);
  await pick(sanna, 'Tag “crew” is', 'left out');
  await expect(sanna.getByText('3 samples would be stored; 5 rows are stored already.')).toBeVisible();
  await sanna.getByRole('button', { name: 'Bring in 3 samples' }).click();
  await expect(sanna.getByText('3 samples stored, 5 rows known before')).toBeVisible();
});

test('each column of a table goes into a characteristic of its own', async ({ browser, nuvek }) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  const row = (i: number) =>
    `2026-01-05 ${two(Math.floor(i / 4))}:${two((i % 4) * 15)},${1118 + (i % 5)},${i === 5 ? 'wet' : 330 + (i % 7)},ok`;
  await send(egon, nuvek.url, 'kiln.csv', lines('at,peak,viscosity,remark', 20, row));
  await pick(egon, 'How', 'Each column into a characteristic of its own');
  await pick(egon, 'Column “peak”', /^Peak temperature/);
  await expect(egon.getByRole('button', { name: 'Bring in 20 samples into one characteristic' })).toBeEnabled();
  await pick(egon, 'Column “viscosity”', /^Viscosity/);
  await expect(egon.getByText('One cell cannot be read.')).toBeVisible();
  const all = egon.getByRole('button', { name: 'Bring in 39 samples into 2 characteristics' });
  await expect(all).toBeDisabled();
  await egon.getByRole('checkbox', { name: 'Bring in only what is right' }).check();
  await all.click();
  await expect(egon.getByText('20 samples stored')).toBeVisible({ timeout: 60_000 });
  await expect(egon.getByText('19 samples stored')).toBeVisible({ timeout: 60_000 });
  const stored = await query<{ name: string; many: string }>(
    nuvek.database,
    `select c.name, count(*) as many from sample s join characteristic c on c.id = s.characteristic_id
     where s.import_id is not null group by c.name order by c.name`,
  );
  expect(stored).toEqual([
    { name: 'Peak temperature', many: '20' },
    { name: 'Viscosity', many: '19' },
  ]);
});

test('each value of a label goes into a characteristic of its own', async ({ browser, nuvek }) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  const row = (i: number) =>
    `2026-01-05 ${two(Math.floor(i / 4))}:${two((i % 4) * 15)},${i % 3 === 0 ? 'K2' : 'K1'},${330 + (i % 7)}`;
  await send(egon, nuvek.url, 'kilns.csv', lines('at,kiln,reading', 24, row));
  await mark(egon, 'kiln', 'tag');
  await pick(egon, 'How', 'Each value of “kiln” into a characteristic of its own');
  await pick(egon, 'kiln K2', /^Viscosity/);
  await egon.getByRole('button', { name: 'Bring in 8 samples into one characteristic' }).click();
  await expect(egon.getByText('8 samples stored')).toBeVisible({ timeout: 60_000 });
  const stored = await query<{ many: string; from: string }>(
    nuvek.database,
    `select count(*) as many, min(source_row)::text as "from" from sample where import_id is not null`,
  );
  expect(stored).toEqual([{ many: '8', from: '2' }]);
});

test('a row that changed is offered as a correction, and taken with its reason', async ({ browser, nuvek }) => {
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  const row = (i: number) => `2026-01-05 ${two(i)}:00,${330 + (i % 7)}`;
  const bring = async (table: string) => {
    await send(sanna, nuvek.url, 'bath.csv', table);
    await pick(sanna, 'Characteristic', /^Viscosity/);
  };
  await bring(lines('at,reading', 20, row));
  await sanna.getByRole('button', { name: 'Bring in 20 samples' }).click();
  await expect(sanna.getByText('20 samples stored')).toBeVisible();
  // A slip was mended in the sheet, and a time was moved.
  const mended = (i: number) => (i === 4 ? '2026-01-05 04:00,391' : i === 9 ? '2026-01-05 09:20,332' : row(i));
  await bring(lines('at,reading', 20, mended));
  const changed = sanna.getByRole('region', { name: '2 rows were stored with other cells' });
  await expect(changed.getByRole('row', { name: /334 mPa·s 391 mPa·s/ })).toBeVisible();
  await expect(changed).toContainText('Time or gap differs: withdraw the sample on its chart and enter it anew.');
  const correct = changed.getByRole('button', { name: 'Correct this sample' });
  await expect(correct).toBeDisabled();
  await changed.getByLabel('Why they are corrected').fill('Read off wrongly');
  expect(await barriers(sanna)).toEqual([]);
  await correct.click();
  await expect(sanna.getByText('One row was stored with other cells.')).toBeVisible();
  const corrected = await query<{ reason: string; value: number }>(
    nuvek.database,
    `select c.reason, s.readings[1] as value from correction c join sample s on s.id = c.sample_id
     where s.import_id is not null`,
  );
  expect(corrected).toEqual([{ reason: 'Read off wrongly', value: 391 }]);
});

test('a characteristic is set up from a table; a table is kept for studies alone', async ({ browser, nuvek }) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  const row = (i: number) =>
    `2026-01-05 ${two(Math.floor(i / 4))}:${two((i % 4) * 15)},M${i % 2},${7 + (i % 9) / 8},${7 + (i % 5) / 8}`;
  await send(egon, nuvek.url, 'bushing.csv', lines('at,mould,x1,x2', 40, row));
  await mark(egon, 'mould', 'tag');
  await egon.getByRole('link', { name: 'Set up a new characteristic from this table' }).click();
  await expect(egon.getByLabel('Name', { exact: true })).toHaveValue('bushing');
  await egon.getByLabel('Unit').fill('mm');
  await egon.getByRole('button', { name: 'Set it up' }).click();
  // Back at the table, as it was left.
  await expect(egon.getByRole('heading', { name: 'bushing.csv', level: 1 })).toBeVisible();
  await expect(egon.getByRole('button', { name: /^mould: / })).toContainText('tag');
  await egon.getByRole('button', { name: 'Bring in 40 samples' }).click();
  await expect(egon.getByText('40 samples stored')).toBeVisible();
  const [made] = await query<{ decimals: number; subgroup_size: number; asked_tags: string[]; chart: string }>(
    nuvek.database,
    `select decimals, subgroup_size, asked_tags, chart from characteristic where name = 'bushing'`,
  );
  expect(made).toEqual({ decimals: 3, subgroup_size: 2, asked_tags: ['mould'], chart: 'xbar_r' });

  await send(
    egon,
    nuvek.url,
    'trial.csv',
    lines(
      'at,force',
      60,
      (i) => `2026-01-06 ${two(Math.floor(i / 4))}:${two((i % 4) * 15)},${i === 30 ? 900 : 40 + (i % 5)}`,
    ),
  );
  await egon.getByRole('link', { name: 'Keep the table for studies alone' }).click();
  await egon.getByLabel('Unit').fill('N');
  await egon.getByRole('button', { name: 'Set it up' }).click();
  await egon.getByRole('button', { name: 'Bring in 60 samples' }).click();
  await expect(egon.getByText('60 samples stored')).toBeVisible();
  const [kept] = await query<{ id: string; hidden: boolean; signals: string }>(
    nuvek.database,
    `select c.id, c.hidden, (select count(*) from signal where characteristic_id = c.id) as signals
     from characteristic c where c.name = 'trial'`,
  );
  expect({ hidden: kept?.hidden, signals: kept?.signals }).toEqual({ hidden: true, signals: '0' });
  await egon.goto(`${nuvek.url}/rounds`);
  await expect(egon.getByText('trial')).toHaveCount(0);
  // A study is asked of it as of any other.
  await egon.goto(`${nuvek.url}/studies`);
  await pick(egon, 'Characteristic', /^trial, .* \(hidden\)$/);
});

test('what fits no recipe is said; a technician does not bring in; cells are pasted', async ({ browser, nuvek }) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  await egon.goto(`${nuvek.url}/data`);
  await egon.getByLabel('Choose a file').setInputFiles({
    name: 'locked.xlsx',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1]),
  });
  await expect(egon.getByText(/locked by a password, or of an older format/)).toBeVisible();
  await egon.goto(`${nuvek.url}/data`);
  await egon.getByRole('heading', { name: 'Brought in' }).waitFor();
  await egon.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text/plain', 'at\tpeak\n2026-01-05 06:00\t1110\n2026-01-05 07:00\t1111\n');
    document.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }));
  });
  await expect(egon.getByRole('heading', { name: /^Pasted cells/, level: 1 })).toBeVisible();
  await expect(egon.getByText('2 samples.')).toBeVisible();
  // Only some of the rows.
  await egon.getByRole('button', { name: 'Only some rows …' }).click();
  await pick(egon, 'Rows where', 'peak');
  await egon.getByRole('combobox', { name: 'is one of' }).fill('1111');
  await egon.keyboard.press('Enter');
  await expect(egon.getByText('1 sample.')).toBeVisible();
  await egon.getByRole('button', { name: 'All rows' }).click();
  await expect(egon.getByText('2 samples.')).toBeVisible();
  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  await expect(tilda.getByRole('navigation').getByRole('link', { name: 'Data' })).toHaveCount(0);
  expect((await tilda.request.get(`${nuvek.url}/api/data/imports`)).status()).toBe(403);
});

test('a long list is judged aside while others enter, and can be cancelled', async ({ browser, nuvek }) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  const minute = (i: number) => new Date(Date.UTC(2025, 0, 1) + i * 600_000).toISOString().slice(0, 16);
  const table = lines('at,peak', 12_000, (i) => `${minute(i)},${1110 + (i % 13)}`);
  await send(egon, nuvek.url, 'year.csv', table);
  await pick(egon, 'Characteristic', /^Peak temperature/);
  await egon.getByRole('button', { name: 'Bring in 12000 samples' }).click();
  await egon.getByRole('button', { name: 'Cancel' }).click({ timeout: 30_000 });
  await expect(egon.getByText('12000 samples cancelled')).toBeVisible({ timeout: 60_000 });
  const stored = await query<{ n: string }>(
    nuvek.database,
    'select count(*) as n from sample where import_id is not null',
  );
  expect(stored[0]?.n).toBe('0');
});

test('rows that are added on top are known by what each has alone', async ({ browser, nuvek }) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  const row = (i: number) => `2026-01-05 ${two(i)}:00,B-${100 + i},${330 + (i % 7)}`;
  const newestFirst = (from: number, to: number) => lines('at,batch,reading', to - from, (i) => row(to - 1 - i));
  await send(egon, nuvek.url, 'bath.csv', newestFirst(0, 12));
  await pick(egon, 'Characteristic', /^Viscosity/);
  await pick(egon, 'Rows are known again by', 'batch');
  await egon.getByRole('button', { name: 'Keep this recipe' }).click();
  await egon.getByLabel('Name of the recipe').fill('Bath by batch');
  await egon.keyboard.press('Enter');
  await expect(egon.getByText('Kept. The next file can be read by it.')).toBeVisible();
  await egon.getByRole('button', { name: 'Bring in 12 samples' }).click();
  await expect(egon.getByText('12 samples stored')).toBeVisible();

  await send(egon, nuvek.url, 'bath.csv', newestFirst(4, 15));
  await pick(egon, 'Characteristic', /^Viscosity/);
  // Known by their numbers every row would be another: the list says by what it is known.
  await expect(
    egon.getByText('The rows of this list are known by “batch” since it was first brought in.'),
  ).toBeVisible();
  await pick(egon, 'Recipe', 'Bath by batch');
  await expect(egon.getByText('3 samples would be stored; 8 rows are stored already.')).toBeVisible();
  expect(await barriers(egon)).toEqual([]);
  await egon.getByRole('button', { name: 'Bring in 3 samples' }).click();
  await expect(egon.getByText('3 samples stored, 8 rows known before')).toBeVisible();

  // Without the recipe, what the list is known by is one press away.
  await send(egon, nuvek.url, 'bath.csv', newestFirst(4, 17));
  await pick(egon, 'Characteristic', /^Viscosity/);
  await egon.getByRole('button', { name: 'Know them by “batch”' }).click();
  await expect(egon.getByText('2 samples would be stored; 11 rows are stored already.')).toBeVisible();
  await expect(egon.getByRole('combobox', { name: 'Rows are known again by' })).toBeFocused();
});
