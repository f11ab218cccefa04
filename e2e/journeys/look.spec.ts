import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

interface Figures {
  center: number;
  sigma: number;
}

test('stale limits stand on the list with their figures, and a phase is begun in one step', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.goto(`${nuvek.url}/charts`);
  await page.getByRole('link', { name: /^Limits to look at \(\d+\)/ }).click();
  const row = page.getByRole('listitem', { name: 'Cap position', exact: true });
  await expect(row).toContainText('The mean has lain');
  expect(await barriers(page)).toEqual([]);

  // The sentence says what the analysis says of the same points.
  const [limits] = await query<Figures & { id: string; points: number; at: Date }>(
    nuvek.database,
    `select c.id, l.center, l.sigma, l.baseline_points as points, l.put_in_force_at as at
     from limits l join phase p on p.id = l.phase_id join characteristic c on c.id = p.characteristic_id
     where c.name = 'Cap position' and l.state = 'in_force'`,
  );
  const samples = await query<{ readings: number[] }>(
    nuvek.database,
    'select readings from sample where characteristic_id = $1 and not gap and taken_at > $2 order by taken_at, number',
    [limits?.id, limits?.at],
  );
  const asked = await page.request.post(`${nuvek.url}/api/analyze`, {
    headers: { origin: nuvek.url },
    data: {
      task: 'limits_check',
      chart: 'i_mr',
      points: samples.map(({ readings }) => ({ values: readings })),
      limits: [{ basis: 'given', center: limits?.center, sigma: limits?.sigma }],
      baseline: { points: limits?.points, values: limits?.points },
      rules: { preset: 'western_electric' },
    },
  });
  const check = (await asked.json()) as { mean: { shift: number }; signals: { seen: number; expected: number } };
  expect(asked.status(), JSON.stringify(check)).toBe(200);
  await expect(row).toContainText(`${check.mean.shift.toFixed(1)} sigma above the centre`);
  await expect(row).toContainText(
    `${check.signals.seen} signals in 25 samples where ${check.signals.expected.toFixed(1)} are expected`,
  );

  await row.getByRole('button', { name: /^Start a phase at sample \d+/ }).click();
  await expect(row).toHaveCount(0);
  const phases = await query<{ state: string }>(
    nuvek.database,
    `select l.state from phase p join limits l on l.phase_id = p.id where p.characteristic_id = $1 order by p.starts_at`,
    [limits?.id],
  );
  expect(phases.map(({ state }) => state)).toEqual(['in_force', 'trial']);
});

test('limits are kept with why and until when, by keys; a technician only reads that they are to be looked at', async ({
  browser,
  nuvek,
}) => {
  const technician = await signedIn(browser, nuvek.url, 'milo');
  await technician.goto(`${nuvek.url}/charts`);
  await technician.getByRole('link', { name: /^Cap position/ }).click();
  const badge = technician.getByRole('status').filter({ hasText: 'The mean has lain' });
  await expect(badge).toBeVisible();
  expect((await technician.request.get(`${nuvek.url}/api/limits/to-look-at`)).status()).toBe(403);

  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.goto(`${nuvek.url}/charts/limits-to-look-at`);
  const row = page.getByRole('listitem', { name: 'Cap position', exact: true });
  await row.getByRole('button', { name: 'Keep them …' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Why they are kept')).toBeFocused();
  await row.getByRole('button', { name: 'Keep the limits' }).click();
  await expect(row).toContainText('Say why they are kept.');
  await page.getByLabel('Why they are kept').fill('The press is set back on Monday.');
  await page.getByLabel('Not to be looked at before').fill('2020-01-01');
  await row.getByRole('button', { name: 'Keep the limits' }).click();
  await expect(row).toContainText('Choose a day after today.');
  const day = new Date(Date.now() + 14 * 86_400_000).toISOString().slice(0, 10);
  await page.getByLabel('Not to be looked at before').fill(day);
  await row.getByRole('button', { name: 'Keep the limits' }).click();
  await expect(row).toHaveCount(0);
  // The technician's open chart hears of it.
  await expect(badge).toHaveCount(0);
});

test('a new lot proposes a phase where Plan says so; it begins in one step, or is declined and not asked again', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  const [slip] = await query<{ id: string }>(nuvek.database, `select id from characteristic where name = 'Viscosity'`);
  await page.goto(`${nuvek.url}/plan/characteristics/${slip?.id}`);
  await expect(page.getByRole('combobox', { name: 'Events that propose a phase' })).toHaveText('New lot');
  await page.goto(`${nuvek.url}/charts/limits-to-look-at`);
  const row = page.getByRole('listitem', { name: 'Viscosity', exact: true });
  await expect(row).toContainText(/New lot S-119 since .*: is a phase to start with it\?/);
  await row.getByRole('button', { name: /^Start a phase at sample \d+, the first since$/ }).click();
  await expect(row).toHaveCount(0);
  const phases = () =>
    query<{ name: string }>(nuvek.database, 'select name from phase where characteristic_id = $1 order by starts_at', [
      slip?.id,
    ]);
  expect((await phases()).map(({ name }) => name)).toContain('New lot S-119');

  // The next one is not wanted.
  const technician = await signedIn(browser, nuvek.url, 'tilda');
  await technician.getByRole('link', { name: /^Viscosity/ }).click();
  await technician.getByLabel('Reading').fill('331');
  await technician.getByRole('button', { name: 'Save sample' }).click();
  await expect(technician.getByText(/Sample \d+ is saved/)).toBeVisible();
  await expect(row).toContainText('New lot S-120');
  await row.getByRole('button', { name: 'No phase for this' }).click();
  await expect(row).toHaveCount(0);
  expect((await phases()).map(({ name }) => name)).not.toContain('New lot S-120');
});
