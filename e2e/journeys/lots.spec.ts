import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

const field = (page: Page, level: string) => page.getByRole('textbox', { name: level, exact: true });

test('a new control lot runs beside the old one and takes over with its own figures; a slip in a run is asked about', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  const [bench] = await query<{ station: string; level: string }>(
    nuvek.database,
    `select a.station_id as station, v.characteristic_id as level from level v join analyte a on a.id = v.analyte_id
     where a.name = 'Conductivity'`,
  );
  await page.goto(`${nuvek.url}/lab/figures/${bench?.station}`);
  await page.getByRole('button', { name: 'Run a new control lot beside Conductivity, standard' }).click();
  await page.getByRole('button', { name: 'Run it beside' }).click();
  await expect(page.getByText('Give the lot a name of 1 to 80 characters.')).toBeVisible();
  await page.getByLabel('Name of the new lot').fill('K-Co 9');
  await page.getByRole('button', { name: 'Run it beside' }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);

  const milo = await signedIn(browser, nuvek.url, 'milo');
  await milo.goto(`${nuvek.url}/lab?bench=${bench?.station}`);
  await expect(milo.getByText('runs beside, not judged')).toBeVisible();
  // A decimal mark in the wrong place is asked about, with what was meant.
  await field(milo, 'Conductivity, standard').fill('14150');
  await field(milo, 'Conductivity, standard, K-Co 9').fill('1505');
  await milo.getByRole('button', { name: 'Save run' }).click();
  await expect(
    milo.getByText(/^Conductivity, standard: 14150 is unusual; results between \d+ and \d+ are usual here/),
  ).toBeVisible();
  await milo.getByRole('button', { name: '1415 was meant' }).click();
  await expect(milo.getByRole('region', { name: 'Verdict' })).toBeVisible();
  const [kept] = await query<{ doubts: { first: string }[]; reading: number }>(
    nuvek.database,
    'select doubts, readings[1] as reading from sample where characteristic_id = $1 order by number desc limit 1',
    [bench?.level],
  );
  expect(kept).toMatchObject({ reading: 1415, doubts: [{ first: '14150' }] });
  // Far off the mean of the old lot, and no run was judged by it.
  const [run] = await query<{ judgements: { results: unknown[]; missing: string[] }[] }>(
    nuvek.database,
    `select judgements from run where station_id = $1 order by number desc limit 1`,
    [bench?.station],
  );
  const of = run?.judgements.find(({ results }) => results.length === 1);
  expect(of?.missing).toEqual([]);

  await page.reload();
  const beside = page.getByRole('button', { name: 'Let Conductivity, standard, K-Co 9 take over' });
  await beside.click();
  await expect(page.getByRole('alert')).toContainText('20');
  // Nineteen more, by the interface of the browser's own program.
  const results = (
    await query<{ id: string }>(nuvek.database, `select characteristic_id as id from level where lot = 'K-Co 9'`)
  )[0];
  for (let i = 0; i < 19; i++) {
    const saved = await milo.request.post(`${nuvek.url}/api/stations/${bench?.station}/runs`, {
      headers: { origin: nuvek.url },
      data: {
        device: crypto.randomUUID(),
        entry: crypto.randomUUID(),
        results: [{ characteristic: results?.id, result: String(1500 + (i % 4) * 3) }],
        confirmed: true,
      },
    });
    expect(saved.status(), await saved.text()).toBe(201);
  }
  await page.reload();
  await beside.click();
  await expect(beside).toHaveCount(0);
  const [own] = await query<{ center: number; sigma: number; n: string; mean: number; sd: number }>(
    nuvek.database,
    `select l.center, l.sigma, s.n, s.mean, s.sd
     from limits l join phase p on p.id = l.phase_id,
          (select count(*) as n, avg(readings[1]) as mean, stddev_samp(readings[1]) as sd from sample where characteristic_id = $2) s
     where p.characteristic_id = $1 order by p.starts_at desc limit 1`,
    [bench?.level, results?.id],
  );
  expect(own?.n).toBe('20');
  expect(own?.center).toBeCloseTo(own?.mean ?? 0, 6);
  expect(own?.sigma).toBeCloseTo(own?.sd ?? 0, 6);
  expect(await barriers(page)).toEqual([]);
});
