import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { analyze } from '../support/analyze';
import { query } from '../support/nuvek';
import { pagesOf } from '../support/pdf';
import { expect, PASSWORD, signedIn, test } from '../support/test';
import { wall } from '../support/wall';

interface Capability {
  n: number;
  cp: number;
  cpk: number;
  pp: number;
  ppk: number;
  intervals: { cpk: [number, number]; ppk: [number, number] };
}

/** What the command answers of the same samples. */
async function analyzed(database: string, id: string, more: object = {}): Promise<Capability> {
  const samples = await query<{ readings: number[] | null; aside: boolean; gap: boolean }>(
    database,
    'select readings, aside, gap from sample where characteristic_id = $1 order by taken_at, number',
    [id],
  );
  const [spec] = await query<{ lsl: number; target: number; usl: number }>(
    database,
    'select lsl, target, usl from characteristic where id = $1',
    [id],
  );
  return analyze<Capability>({
    task: 'capability',
    points: samples.map(({ readings, gap }) => (gap ? null : { values: readings })),
    excluded: samples.flatMap(({ aside }, i) => (aside ? [i] : [])),
    ...spec,
    ...more,
  });
}

/** Figures of the table of indices, by their names. */
async function indices(page: Page): Promise<Record<string, string>> {
  const rows = page.getByRole('region', { name: 'Indices' }).getByRole('row');
  const cells = await rows.evaluateAll((all) =>
    all.map((row) => [...row.children].map((cell) => (cell as HTMLElement).innerText.trim())),
  );
  return Object.fromEntries(cells.filter(([name]) => /^(C|P)p/.test(name ?? '')).map(([name, value]) => [name, value]));
}

const interval = ([low, high]: [number, number]) => `${low.toFixed(2)} … ${high.toFixed(2)}`;

test('whether a process is able is asked as a sentence, answered with its doubts, and kept as it was found', async ({
  browser,
  nuvek,
}) => {
  const { id } = await wall(nuvek.database);
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.getByRole('link', { name: 'Studies' }).click();
  await page.getByRole('combobox', { name: 'Characteristic' }).click();
  await page.getByRole('option', { name: /^Wall thickness, Cartridge C-20/ }).click();
  await page.getByRole('link', { name: 'Is it able?' }).click();
  const expected = await analyzed(nuvek.database, id);
  await expect(page.getByText(`Cpk is ${expected.cpk.toFixed(2)}`)).toBeVisible();
  expect(await indices(page)).toMatchObject({
    Cp: expected.cp.toFixed(2),
    Cpk: expected.cpk.toFixed(2),
    Pp: expected.pp.toFixed(2),
    Ppk: expected.ppk.toFixed(2),
  });
  await expect(page.getByRole('cell', { name: interval(expected.intervals.cpk) })).toBeVisible();
  // The doubts stand beside the verdict, and nothing folds them away.
  const doubts = page.getByRole('region', { name: 'To be read with' });
  await expect(doubts).toContainText('Not stable.');
  await expect(doubts.getByRole('button')).toHaveCount(0);
  expect(await barriers(page)).toEqual([]);

  // By keyboard alone from a bar to the samples in it, and to their points on the chart.
  const bars = page.getByRole('group', { name: 'The values against the specification' }).getByRole('button');
  const said = /^(\S+) to (\S+): (\d+) values?$/.exec((await bars.first().getAttribute('aria-label')) ?? '');
  await bars.first().focus();
  await page.keyboard.press('Enter');
  const behind = page.getByRole('region', { name: `${said?.[1]} – ${said?.[2]}` });
  const link = behind.getByRole('link').first();
  const number = await link.innerText();
  const [of] = await query<{ readings: number[] }>(
    nuvek.database,
    'select readings from sample where characteristic_id = $1 and number = $2',
    [id, number],
  );
  expect(of?.readings.some((x) => x >= Number(said?.[1]) && x < Number(said?.[2]))).toBe(true);
  await link.click();
  await expect(page.getByRole('region', { name: `Sample ${number}` })).toBeVisible();
  await page.goBack();

  // As what fits best, told apart by phase; the address holds all of it.
  await page.getByRole('combobox', { name: 'Values taken as' }).click();
  await page.getByRole('option', { name: 'lognormal', exact: true }).click();
  const lognormal = await analyzed(nuvek.database, id, { distribution: 'lognormal' });
  await expect(page.getByText(`Ppk is ${lognormal.ppk.toFixed(2)}`)).toBeVisible();
  await page.getByRole('combobox', { name: 'Told apart by' }).click();
  await page.getByRole('option', { name: 'Phase: before and after' }).click();
  const groups = page.getByRole('region', { name: 'Told apart' });
  await expect(groups.getByRole('row', { name: /Clay lot K-17/ })).toBeVisible();
  await page.reload();
  await expect(groups.getByRole('row', { name: /Clay lot K-17/ })).toBeVisible();
  await expect(page.getByText(`Ppk is ${lognormal.ppk.toFixed(2)}`)).toBeVisible();

  await page.getByLabel('Name of the study').fill('Wall as lognormal');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Wall as lognormal', level: 1 })).toBeVisible();
  await expect(page.getByText(/the data are as they were/)).toBeVisible();
});

test('a kept answer stays until it is found anew, and a frozen copy is signed', async ({ browser, nuvek }) => {
  const { id } = await wall(nuvek.database);
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.goto(`${nuvek.url}/studies/capability?of=${id}&last=200`);
  await page.getByLabel('Name of the study').fill('The last of the wall');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByText(/the data are as they were/)).toBeVisible();

  const [last] = await query<{ id: string }>(
    nuvek.database,
    'select id from sample where characteristic_id = $1 and not gap and not aside order by taken_at desc limit 1',
    [id],
  );
  const aside = await page.request.post(`${nuvek.url}/api/characteristics/${id}/limits/changes`, {
    headers: { origin: nuvek.url },
    data: {
      version: (await (await page.request.get(`${nuvek.url}/api/characteristics/${id}/limits`)).json()).version,
      change: 'set_aside',
      sample: last?.id,
      cause_text: 'mixed up',
    },
  });
  expect(aside.ok()).toBe(true);
  await page.reload();
  await expect(page.getByText(/Since then 1 other thing was done/)).toBeVisible();
  await page.getByRole('button', { name: 'Find the answer anew' }).click();
  await expect(page.getByText(/the data are as they were/)).toBeVisible();
  await expect(page.getByRole('region', { name: 'To be read with' })).toContainText(/1 sample is set aside/);

  await page.getByRole('button', { name: 'Freeze a copy' }).click();
  await expect(page.getByText(/^A frozen copy/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Find the answer anew' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Sign', exact: true }).click();
  const form = page.getByRole('form', { name: 'Sign this copy' });
  await form.getByLabel('Your password').fill('not this');
  await form.getByRole('button', { name: 'Sign' }).click();
  await expect(form.getByRole('alert')).toBeVisible();
  await form.getByLabel('Your password').fill(PASSWORD);
  await form.getByRole('button', { name: 'Sign' }).click();
  await expect(page.getByText(/^Signed by Egon Examplar/)).toBeVisible();
  expect(await barriers(page)).toEqual([]);

  // A technician reads it, and changes nothing of it.
  const other = await signedIn(browser, nuvek.url, 'milo');
  await other.goto(page.url());
  await expect(other.getByText(/^Signed by Egon Examplar/)).toBeVisible();
  await expect(other.getByRole('button', { name: 'Sign', exact: true })).toHaveCount(0);
});

test('what has no answer gets a sentence, and what was typed stays', async ({ browser, nuvek }) => {
  const [shrinkage] = await query<{ id: string }>(
    nuvek.database,
    "select id from characteristic where name = 'Viscosity'",
  );
  const page = await signedIn(browser, nuvek.url, 'milo', { viewport: { width: 390, height: 844 } });
  await page.goto(`${nuvek.url}/studies/capability?of=${shrinkage?.id}&after=2019-01-01&until=2019-02-01`);
  await expect(page.getByText(/^No sample with a value is selected/)).toBeVisible();
  await page.getByRole('combobox', { name: 'Samples' }).click();
  await page.getByRole('option', { name: 'All of them' }).click();
  await expect(page.getByText(/^C?P?pk is|Cpk is/).first()).toBeVisible();
  await page.getByLabel('LSL').fill('500');
  await page.getByLabel('USL').fill('400');
  await page.getByLabel('USL').press('Enter');
  await expect(page.getByText(/LSL below target below USL/)).toBeVisible();
  await expect(page.getByLabel('LSL')).toHaveValue('500');
  await page.getByLabel('USL').fill('600,5');
  await page.getByLabel('USL').press('Enter');
  await expect(page.getByRole('paragraph').filter({ hasText: /specification 500 to 60/ })).toBeVisible();
  // On a phone nothing is wider than the screen.
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  // Who may not keep studies asks all the same.
  await expect(page.getByRole('form', { name: 'Keep this study' })).toHaveCount(0);
});

test('a study is printed with its verdict and its doubts', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.getByRole('link', { name: 'Studies' }).click();
  await page.getByRole('link', { name: 'Flow rate, week by week' }).click();
  const verdict = await page.getByText(/^Cpk is/).innerText();
  const doubt = await page.getByRole('region', { name: 'To be read with' }).getByRole('listitem').first().innerText();
  const paper = await page.pdf({ format: 'A4' });
  const text = (await pagesOf(paper)).join(' ');
  expect(text).toContain('Flow rate, week by week');
  expect(text).toContain(verdict.slice(0, 14));
  expect(text).toContain('Not stable.');
  expect(doubt).toContain('Not stable.');
  expect(text).not.toContain('Ask otherwise');
});
