import { query } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

test('an engineer sets up a station, a product and a characteristic by answering questions; it is sampled at once', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.getByRole('link', { name: 'Plan' }).click();
  await page.getByRole('button', { name: 'Add a station' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Glaze bench');
  await page.getByLabel('Area').fill('Finishing');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('button', { name: 'Add a product' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Housing H-1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);

  await page.getByRole('link', { name: 'Set up a characteristic' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Glaze flaws');
  await page.getByRole('combobox', { name: 'Station' }).click();
  await page.getByRole('option', { name: 'Glaze bench' }).click();
  await page.getByRole('combobox', { name: 'Product' }).click();
  await page.getByRole('option', { name: 'Housing H-1' }).click();
  await expect(page.getByText('Mean and range fits.')).toBeVisible();
  await page.getByLabel('How many pieces each time?').fill('1');
  await expect(page.getByText('Individuals and moving range fits.')).toBeVisible();
  await page.getByLabel('How many pieces each time?').fill('12');
  await expect(page.getByText('Mean and s fits.')).toBeVisible();
  await page.getByRole('combobox', { name: 'Where do the pieces come from?' }).click();
  await page.getByRole('option', { name: /One from each of several moulds/ }).click();
  await expect(page.getByText(/Different streams in one sample widen its range/)).toBeVisible();
  await page.getByRole('combobox', { name: 'What do you record?' }).click();
  await page.getByRole('option', { name: /How many flaws/ }).click();
  await expect(page.getByText(/Always the same amount is looked at/)).toBeVisible();
  await page.getByRole('combobox', { name: 'Always the same number?' }).click();
  await page.getByRole('option', { name: /No, it is asked each time/ }).click();
  await expect(page.getByText('Nonconformities per unit (u) fits.')).toBeVisible();

  // What is missing is said where it is missing.
  await page.getByRole('button', { name: 'Set it up' }).click();
  await expect(page.getByText('Say in what it is measured, or what is inspected', { exact: false })).toBeVisible();
  await expect(page.getByLabel('What is inspected')).toBeFocused();
  await page.getByLabel('What is inspected').fill('housings');
  for (const kind of ['Crawl', 'Pinhole']) {
    await page.getByLabel('Another kind').fill(kind);
    await page.keyboard.press('Enter');
  }
  await page.getByLabel('Minutes').fill('30');
  await page.getByRole('button', { name: 'Set it up' }).click();
  await expect(page.getByRole('list', { name: 'Characteristics' }).getByRole('listitem')).toContainText([
    'Glaze flaws · Housing H-1 · Glaze bench',
  ]);

  await page.goto(`${nuvek.url}/rounds`);
  await openEntry(page, /Glaze flaws/);
  await page.keyboard.type('20');
  await page.keyboard.press('Enter');
  await page.keyboard.type('cp2p');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Sample 1 is saved/)).toBeVisible();
  const [sample] = await query<{ count: number; inspected: number }>(
    nuvek.database,
    `select count, inspected from sample s join characteristic c on c.id = s.characteristic_id where c.name = 'Glaze flaws'`,
  );
  expect(sample).toEqual({ count: 4, inspected: 20 });
});

test('a characteristic is copied, with its own rules', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.goto(`${nuvek.url}/plan?find=burst`);
  await page.getByRole('link', { name: /Copy Burst pressure/ }).click();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Burst pressure, copy');
  await page.getByRole('combobox', { name: 'Rules' }).click();
  await page.getByRole('option', { name: 'An own list' }).click();
  await page.getByRole('checkbox', { name: 'A point beyond so many sigma' }).check();
  await page.getByRole('checkbox', { name: 'So many in a row rising, or falling' }).check();
  await page.getByLabel('So many in a row rising, or falling: in a row').fill('5');
  await page.getByLabel('Usual from').fill('14,5');
  await page.getByRole('button', { name: 'Set it up' }).click();
  await expect(page.getByRole('link', { name: 'Burst pressure, copy', exact: true })).toBeVisible();
  const [copy] = await query<{ rule_set: unknown; soft_lower: number }>(
    nuvek.database,
    `select rule_set, soft_lower from characteristic where name = 'Burst pressure, copy'`,
  );
  expect(copy).toEqual({
    rule_set: {
      list: [
        { kind: 'beyond', k: 3 },
        { kind: 'trend', n: 5 },
      ],
    },
    soft_lower: 14.5,
  });
});

test('many are found by pattern and changed at once, after a look at what will change', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.getByRole('link', { name: 'Plan' }).click();
  await page.getByLabel(/Find by name/).fill('*wall*');
  await page.getByRole('button', { name: 'Choose all found' }).click();
  await page.getByRole('button', { name: 'Change 2 at once …' }).click();
  const change = page.getByRole('region', { name: 'Change many at once' });
  await change.getByRole('combobox', { name: 'To' }).click();
  await page.getByRole('option', { name: 'Nelson: all eight patterns' }).click();
  const table = page.getByRole('table', { name: 'What will change' });
  await expect(table.getByRole('row')).toHaveCount(3);
  await expect(table.getByText('Rules: Western Electric', { exact: false })).toHaveCount(2);
  // A chart that does not fit five pieces is refused before anything is changed.
  await change.getByRole('combobox', { name: 'What changes' }).click();
  await page.getByRole('option', { name: 'Chart', exact: true }).click();
  await change.getByRole('combobox', { name: 'To' }).click();
  await page.getByRole('option', { name: 'Individuals and moving range' }).click();
  await expect(table.getByText('Single readings have the chart of individuals', { exact: false })).toHaveCount(2);
  await expect(change.getByRole('button', { name: /^Change/ })).toBeDisabled();
  await change.getByRole('combobox', { name: 'To' }).click();
  await page.getByRole('option', { name: 'Mean and s' }).click();
  await expect(table.getByText('A new phase starts on trial limits.')).toHaveCount(2);
  await change.getByRole('button', { name: 'Change 2' }).click();
  await expect(change).toHaveCount(0);
  await expect(page.getByRole('listitem').getByText('Mean and s')).toHaveCount(2);
});

test('of two engineers who change one characteristic the second is told', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  const other = await signedIn(browser, nuvek.url, 'egon');
  for (const engineer of [page, other]) {
    await engineer.goto(`${nuvek.url}/plan?find=viscosity`);
    await engineer.getByRole('link', { name: 'Viscosity', exact: true }).click();
    await engineer.getByLabel('Labels').fill('slip');
    await engineer.keyboard.press('Enter');
  }
  await page.getByRole('button', { name: 'Save the change' }).click();
  await expect(page.getByRole('listitem')).toContainText(['slip']);
  await other.getByRole('button', { name: 'Save the change' }).click();
  await expect(other.getByText(/Somebody changed it meanwhile/)).toBeVisible();
  await expect(other.getByRole('button', { name: 'slip' })).toBeVisible();
});

test('beside the choice of rules stands what they cost at this sampling and others, as the analysis says', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  const plan = (await (await page.request.get(`${nuvek.url}/api/plan`)).json()) as {
    characteristics: { id: string; name: string; rule_set: unknown }[];
  };
  const bead = plan.characteristics.find((c) => c.name === 'Bead weight');
  if (!bead) throw new Error('no Bead weight');
  /** False alarms a week, and samples until a shift of one sigma is seen, for three pieces every four hours. */
  const analysed = async (rules: unknown) => {
    const answer = await page.request.post(`${nuvek.url}/api/analyze`, {
      headers: { origin: nuvek.url },
      data: {
        task: 'sampling',
        rules,
        shift: 1,
        plans: [{ pieces: 3, interval_minutes: 240 }],
        runs: 5000,
        seed: 1,
      },
    });
    const [it] = (await answer.json()) as { false_alarms_per_day: number; minutes_to_signal: number }[];
    if (!it) throw new Error('no answer');
    const minutes = Math.round(it.minutes_to_signal);
    const after = `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')} min`;
    return { alarms: (7 * it.false_alarms_per_day).toFixed(1), after };
  };
  await page.goto(`${nuvek.url}/plan/characteristics/${bead.id}`);
  const now = page.getByRole('region', { name: 'What these rules cost' }).getByRole('row', { name: /, as set up/ });
  await page.getByLabel('How many pieces each time?').fill('3');
  await page.getByRole('combobox', { name: 'Rules' }).click();
  await page.getByRole('option', { name: /^Nelson/ }).click();
  const nelson = await analysed({ preset: 'nelson' });
  await expect(now.getByRole('cell', { name: nelson.alarms, exact: true })).toBeVisible();
  await expect(now.getByRole('cell', { name: nelson.after, exact: true })).toBeVisible();
  await page.getByRole('combobox', { name: 'Rules' }).click();
  await page.getByRole('option', { name: /^Beyond the limits, nothing else/ }).click();
  const limits = await analysed({ preset: 'limits_only' });
  expect(limits.after).not.toBe(nelson.after);
  await expect(now.getByRole('cell', { name: limits.alarms, exact: true })).toBeVisible();
  await expect(now.getByRole('cell', { name: limits.after, exact: true })).toBeVisible();
});
