import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { analyze } from '../support/analyze';
import { query } from '../support/nuvek';
import { pagesOf } from '../support/pdf';
import { expect, signedIn, test } from '../support/test';

async function idOf(database: string, name: string): Promise<string> {
  const [row] = await query<{ id: string }>(database, 'select id from characteristic where name = $1', [name]);
  if (!row) throw new Error(`no characteristic ${name}`);
  return row.id;
}

interface Read {
  readings: number[] | null;
  taken_at: Date;
}

const valuesOf = (database: string, id: string, last = 100_000) =>
  query<Read>(
    database,
    `select * from (select readings, taken_at, number from sample where characteristic_id = $1 and not gap and not aside
                    order by taken_at desc, number desc limit $2) s order by taken_at, number`,
    [id, last],
  );

async function withoutBarriers(page: Page): Promise<void> {
  expect(await barriers(page)).toEqual([]);
}

/** Cells of a row of the page, by the name in its first one. */
async function cells(page: Page, region: string, name: string): Promise<string[]> {
  const row = page.getByRole('region', { name: region }).getByRole('row').filter({ hasText: name }).first();
  return row.evaluate((one) => [...one.children].map((cell) => (cell as HTMLElement).innerText.trim()));
}

test('which distribution values follow: the best with its reason, one by hand, outliers left out', async ({
  browser,
  nuvek,
}) => {
  const id = await idOf(nuvek.database, 'Burst pressure');
  const values = (await valuesOf(nuvek.database, id)).flatMap(({ readings }) => readings ?? []);
  const { fits } = analyze<{ fits: { family: string; aic: number; a2: number }[] }>({ task: 'fit', values });
  const best = [...fits].sort((a, b) => a.aic - b.aic);
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.getByRole('link', { name: 'Studies' }).click();
  await page.getByRole('combobox', { name: 'Characteristic' }).click();
  await page.getByRole('option', { name: /^Burst pressure/ }).click();
  await page.getByRole('link', { name: 'Which distribution?', exact: true }).click();
  await expect(page.getByText(/^It fits best: its AIC is the lowest/)).toBeVisible();
  const families = page.getByRole('region', { name: 'Families by fit' }).getByRole('row');
  const shown = await families.evaluateAll((rows) =>
    rows.slice(1).map((row) => [...row.children].map((cell) => (cell as HTMLElement).innerText.trim())),
  );
  expect(shown.map(([, aic, a2]) => [aic, a2])).toEqual(best.map(({ aic, a2 }) => [aic.toFixed(1), a2.toFixed(2)]));
  await withoutBarriers(page);

  // By keyboard alone another family is drawn beside; by hand it is taken, and the better one is named.
  await page.getByRole('button', { name: 'normal', exact: true }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'normal', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('combobox', { name: 'Distribution taken' }).click();
  await page.getByRole('option', { name: 'normal', exact: true }).click();
  await expect(page.getByText(/^It was chosen by hand/)).toBeVisible();

  // Parameters that are typed hold when all of them are there.
  await page.getByLabel('Mean', { exact: true }).fill('20,5');
  await page.getByLabel('Mean', { exact: true }).press('Enter');
  await page.getByLabel('s', { exact: true }).fill('1');
  await page.getByLabel('s', { exact: true }).press('Enter');
  await expect(page.getByText('Normal: mean 20.5, s 1', { exact: true })).toBeVisible();
  await page.getByLabel('s', { exact: true }).fill('-1');
  await page.getByLabel('s', { exact: true }).press('Enter');
  await expect(page.getByText(/those of spread and shape above 0/)).toBeVisible();
  await page.getByLabel('s', { exact: true }).fill('1');
  await page.getByLabel('s', { exact: true }).press('Enter');

  const low = [...values].sort((a, b) => a - b)[2] ?? 0;
  const kept = values.filter((x) => x >= low);
  await page.getByLabel('From value').fill(String(low));
  await page.getByLabel('From value').press('Enter');
  await expect(page.getByText(`${values.length - kept.length} values were left out by the filter`)).toBeVisible();
  await page.reload();
  await expect(page.getByText('Normal: mean 20.5, s 1', { exact: true })).toBeVisible();
});

interface Kind {
  name: string;
  count: number;
  share: number;
  cumulative: number;
}

test('which defects there are: sorted, weighed, against other samples, one kind over time, on paper', async ({
  browser,
  nuvek,
}) => {
  const id = await idOf(nuvek.database, 'Cosmetic defects');
  const kinds = await query<{ name: string; count: number }>(
    nuvek.database,
    `select known->>'name' as name, coalesce((
         select sum((d->>'count')::int) from sample s cross join jsonb_array_elements(s.defects) d
         where s.characteristic_id = c.id and not s.gap and not s.aside and d->>'kind' = known->>'id'), 0)::int as count
     from characteristic c cross join jsonb_array_elements(c.defect_kinds) known where c.id = $1`,
    [id],
  );
  const expected = analyze<Kind[]>({ task: 'pareto', kinds });
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.goto(`${nuvek.url}/studies/defects?of=${id}`);
  const table = page.getByRole('table', { name: 'Defects by kind' });
  await expect(table).toBeVisible();
  const rows = async () =>
    table
      .getByRole('row')
      .evaluateAll((all) =>
        all.slice(1).map((row) => [...row.children].map((cell) => (cell as HTMLElement).innerText.trim())),
      );
  const share = (x: number) => `${(100 * x).toFixed(1)} %`;
  expect((await rows()).map(([name, , count, of, all]) => [name, count?.replace(',', ''), of, all])).toEqual(
    expected.map(({ name, count, share: of, cumulative }) => [name, String(count), share(of), share(cumulative)]),
  );
  await withoutBarriers(page);

  // A bar opens its samples by keyboard.
  const first = expected[0]?.name ?? '';
  await table.getByRole('button', { name: new RegExp(`^${first}:`) }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: first }).getByRole('link').first()).toBeVisible();

  // The dearest kind comes first once it is said what it costs.
  const last = expected[expected.length - 1]?.name ?? '';
  await table.getByRole('row').filter({ hasText: last }).getByLabel('Cost of one').fill('500');
  await table.getByRole('row').filter({ hasText: last }).getByLabel('Cost of one').press('Enter');
  await expect(async () => expect((await rows())[0]?.[0]).toBe(last)).toPass();

  await page.getByRole('combobox', { name: 'Held against' }).click();
  await page.getByRole('option', { name: 'Other samples' }).click();
  await expect(page.getByText(/^Against the others: .* times as many/)).toBeVisible();
  await page.reload();
  await expect(page.getByText(/^Against the others: .* times as many/)).toBeVisible();
  await expect(async () => expect((await rows())[0]?.[0]).toBe(last)).toPass();

  const paper = (await pagesOf(await page.pdf({ format: 'A4', landscape: true }))).join(' ');
  expect(paper).toContain('Which defects?');
  expect(paper).toContain(first);

  await table.getByRole('row').filter({ hasText: first }).getByRole('link', { name: 'Over time' }).click();
  await expect(page.getByRole('combobox', { name: 'Counted' })).toContainText(first);
  await expect(page.getByRole('heading', { name: /looked at otherwise/ })).toBeVisible();
  const [newest] = await query<{ rate: number }>(
    nuvek.database,
    `select coalesce((select sum((d->>'count')::int) from jsonb_array_elements(s.defects) d
                      where d->>'kind' = (select known->>'id' from characteristic c, jsonb_array_elements(c.defect_kinds) known
                                          where c.id = $1 and known->>'name' = $2)), 0)::float / s.inspected as rate
     from sample s where characteristic_id = $1 and not gap order by taken_at desc limit 1`,
    [id, first],
  );
  const looked = await (
    await page.request.get(`${nuvek.url}/api/characteristics/${id}/look?defect=${encodeURIComponent(first)}`)
  ).json();
  const rates: (number | null)[] = looked.drawings[0].panels[0].value;
  expect(rates[rates.length - 1]).toBeCloseTo(newest?.rate ?? Number.NaN, 12);
});

interface Compared {
  sets: { mean: number; sd: number; n: number }[];
  against: { mean_difference: { value: number; low: number; high: number; p: number } }[];
}

test('sets stand side by side, each held against the first', async ({ browser, nuvek }) => {
  const id = await idOf(nuvek.database, 'Wall thickness');
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.goto(`${nuvek.url}/studies/side-by-side?set1=${encodeURIComponent(`of=${id}&name=All of it`)}`);
  await expect(page.getByRole('region', { name: 'Figures' })).toBeVisible();
  await page.getByRole('button', { name: 'One set more' }).click();
  const second = page.getByRole('region', { name: 'Set 2' });
  await second.getByLabel('Called').fill('The newest');
  await second.getByLabel('Called').press('Enter');
  await second.getByRole('combobox', { name: 'Samples' }).click();
  await page.getByRole('option', { name: 'The last 50', exact: true }).click();
  const points = async (last?: number) =>
    (await valuesOf(nuvek.database, id, last)).map(({ readings }) => ({ values: readings }));
  const compared = analyze<Compared>({
    task: 'compare',
    chart: 'xbar_r',
    sets: [
      { name: 'a', points: await points() },
      { name: 'b', points: await points(50) },
    ],
  });
  const [all, newest] = compared.sets;
  await expect(async () =>
    expect(await cells(page, 'Figures', 'Values')).toEqual([
      'Values',
      all?.n.toLocaleString('en-GB'),
      newest?.n.toLocaleString('en-GB'),
    ]),
  ).toPass();
  expect(await cells(page, 'Figures', 'Mean')).toEqual(['Mean', all?.mean.toFixed(3), newest?.mean.toFixed(3)]);
  const difference = compared.against[0]?.mean_difference;
  const p = (difference?.p ?? 0) < 0.0001 ? 'p below 0.0001' : `p ${difference?.p.toFixed(4)}`;
  expect((await cells(page, 'Figures', 'Difference of means'))[2]).toContain(p);
  await withoutBarriers(page);

  // A column opens its samples; the whole of it stands in the address.
  await page.getByRole('button', { name: 'The newest', exact: true }).click();
  await expect(page.getByRole('region', { name: 'The newest' }).getByRole('heading')).toContainText('50 samples');
  await page.reload();
  await expect(page.getByRole('button', { name: 'The newest', exact: true })).toBeVisible();

  // What differs in kind is said.
  await second.getByRole('combobox', { name: 'Set 2' }).click();
  await page.getByRole('option', { name: /^Viscosity/ }).click();
  await expect(page.getByText(/^These sets record different things/)).toBeVisible();
});

test('rules and sampling plans are weighed', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.getByRole('link', { name: 'Studies' }).click();
  await page.getByRole('link', { name: 'What do the rules see?' }).click();
  const second = page.getByRole('region', { name: 'Design B' });
  await second.getByLabel('Pieces').fill('2');
  await second.getByLabel('Pieces').press('Enter');
  const [seen] = analyze<{ minutes_to_signal: number; false_alarms_per_day: number; pieces_per_day: number }[]>({
    task: 'sampling',
    rules: { preset: 'limits_only' },
    k: 3,
    shift: 1,
    plans: [{ pieces: 2, interval_minutes: 60 }],
  });
  const hours = ((seen?.minutes_to_signal ?? 0) / 60).toFixed(1);
  const days = (1 / (seen?.false_alarms_per_day ?? 1)).toFixed(1);
  await expect(
    page.getByText(
      `Design B sees a shift of 1 σ after ${hours} h on average, cries wolf once in ${days} days, and takes ${seen?.pieces_per_day} pieces a day.`,
    ),
  ).toBeVisible();
  await withoutBarriers(page);
  await second.getByLabel('Pieces').fill('500');
  await second.getByLabel('Pieces').press('Enter');
  await expect(page.getByText(/a whole number from 1 to 200/)).toBeVisible();
});

test('any column over time, with limits, and from there a characteristic of its own', async ({ browser, nuvek }) => {
  const id = await idOf(nuvek.database, 'Viscosity');
  const days = await query<{ day: string; mean: number; over: boolean }>(
    nuvek.database,
    `select to_char(date_trunc('day', taken_at at time zone z.time_zone), 'YYYY-MM-DD') as day, avg(r) as mean,
            date_trunc('day', taken_at at time zone z.time_zone)
                < date_trunc('day', now() at time zone z.time_zone) as over
     from sample s cross join unnest(s.readings) r cross join site z
     where characteristic_id = $1 and not gap and not aside group by 1, 3 order by 1`,
    [id],
  );
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.goto(`${nuvek.url}/studies/over-time?of=${id}`);
  const drawing = page.getByRole('region', { name: /^Mean of values: Viscosity/ });
  await expect(drawing).toBeVisible();
  await page.getByRole('button', { name: 'As a table' }).click();
  const rows = await drawing
    .getByRole('row')
    .evaluateAll((all) =>
      all.slice(1).map((row) => [...row.children].map((cell) => (cell as HTMLElement).innerText.trim())),
    );
  const shown = rows.filter(([, , samples]) => samples !== '0').map(([day, value]) => [day, value]);
  expect(shown).toEqual(days.map(({ day, mean }) => [day, mean.toFixed(1)]));
  await withoutBarriers(page);

  await drawing.getByRole('button', { name: new RegExp(`^${days[3]?.day}`) }).focus();
  await page.keyboard.press('Enter');
  await expect(
    page
      .getByRole('region', { name: days[3]?.day ?? '' })
      .getByRole('link')
      .first(),
  ).toBeVisible();
  await page.getByRole('link', { name: 'Make it a characteristic' }).click();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Viscosity, mean of values');
});

test('a study of each sort is on the demonstration site, and is found by words and sort', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  await page.getByRole('link', { name: 'Studies' }).click();
  await page.getByRole('combobox', { name: 'Sort' }).click();
  await page.getByRole('option', { name: 'Defects by kind' }).click();
  await expect(page.getByRole('link', { name: 'Cosmetic defects, week by week' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Flow rate, week by week' })).toHaveCount(0);
  await page.getByLabel('Search').fill('nothing like that');
  await expect(page.getByText('No study is like that.')).toBeVisible();
  await page.goto(`${nuvek.url}/studies?search=shift`);
  await page.getByRole('link', { name: 'Wall thickness, shift beside shift' }).click();
  for (const shift of ['Early', 'Late', 'Night'])
    await expect(page.getByRole('button', { name: shift, exact: true })).toBeVisible();
  await withoutBarriers(page);
});
