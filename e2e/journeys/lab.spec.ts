import type { Page } from '@playwright/test';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

const GOOD = {
  'Silver assay, low': '42,3',
  'Silver assay, high': '117.2',
  'Turbidity, low': '0.51',
  'Turbidity, middle': '1.98',
  'Turbidity, high': '8.1',
  'Conductivity, standard': '1415',
};

async function lab(page: Page) {
  await page.getByRole('navigation').getByRole('link', { name: 'Lab' }).click();
  await page.getByRole('heading', { name: 'Control run', level: 1 }).waitFor();
}

const field = (page: Page, level: string) => page.getByRole('textbox', { name: level, exact: true });

test('a rejected run is not released but repeated; the repeat is entered by keys alone, judged as typed, and released', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  await lab(page);
  await page.getByRole('list', { name: 'Latest runs' }).getByRole('link').first().click();
  await expect(page.getByText('The run may not be released.', { exact: false })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Verdict' })).toContainText('Rejected');
  await expect(page.getByRole('list', { name: 'Results' })).toContainText(
    'two in a row beyond 2 sd on one side (2-2s), low and high',
  );
  await expect(page.getByRole('button', { name: 'Release the run' })).toHaveCount(0);
  await page.getByRole('link', { name: 'Repeat the run' }).click();
  await expect(page.getByRole('heading', { name: /^Repeat of run/ })).toBeVisible();

  // In any order: the turbidity first, and mistyped.
  await field(page, 'Turbidity, low').focus();
  await page.keyboard.type('0.62');
  await expect(page.getByText('▲ +4.00 sd')).toBeVisible();
  await expect(page.getByText('one result beyond 3 sd (1-3s), low')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Chart' })).toContainText('Turbidity, low: Levey-Jennings chart');
  await expect(page.getByTestId('pencil-individual')).toHaveAttribute('data-value', '0.62');
  await field(page, 'Turbidity, low').selectText();
  await page.keyboard.type('0.51');
  await expect(page.getByText('+0.33 sd')).toBeVisible();
  for (const level of [
    'Turbidity, middle',
    'Turbidity, high',
    'Conductivity, standard',
    'Silver assay, low',
    'Silver assay, high',
  ] as const) {
    await page.keyboard.press('Enter');
    await expect(field(page, level)).toBeFocused();
    await page.keyboard.type(GOOD[level]);
  }
  await expect(page.getByText('As typed: ')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Verdict' })).toContainText('Accepted');
  await expect(page.getByRole('button', { name: 'Release the run' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Released .* by Milo Mockridge/)).toBeVisible();
  await page.getByRole('link', { name: /^repeats run \d+$/ }).click();
  await expect(page.getByText(/Repeated by/)).toBeVisible();
  const kept = await query<{ number: string; lots: string }>(
    nuvek.database,
    `select r.number, count(*) filter (where s.tags->>'reagent lot' like 'R-%')::text as lots
     from run r join run first on first.id = r.repeats join sample s on s.run_id = r.id
     where r.released_at is not null and first.number = (select max(number) - 1 from run) group by r.number`,
  );
  expect(kept.map((run) => run.lots)).toEqual(['6']);
});

test('a technician cannot override a verdict; a supervisor can, with a reason, and both stay on record', async ({
  browser,
  nuvek,
}) => {
  const technician = await signedIn(browser, nuvek.url, 'milo');
  await lab(technician);
  await technician.getByRole('list', { name: 'Latest runs' }).getByRole('link').first().click();
  await technician.getByRole('link', { name: 'Repeat the run' }).waitFor();
  await expect(technician.getByRole('button', { name: 'Override the verdict …' })).toHaveCount(0);

  const supervisor = await signedIn(browser, nuvek.url, 'sanna');
  await supervisor.goto(technician.url());
  await supervisor.getByRole('button', { name: 'Override the verdict …' }).click();
  await supervisor.keyboard.type('Electrode was dry; the manual titration agrees.');
  await supervisor.getByRole('button', { name: 'Override the verdict', exact: true }).click();
  await expect(supervisor.getByRole('region', { name: 'Verdict' })).toContainText('Rejected');
  await expect(supervisor.getByText(/overridden .* by Sanna Samplethorpe: Electrode was dry/)).toBeVisible();
  // The technician's screen learns of it without a reload; who ran it does not release it.
  await expect(technician.getByText('Whoever ran it does not release it.', { exact: false })).toBeVisible();
  await expect(technician.getByRole('button', { name: 'Release the run' })).toHaveCount(0);
  await supervisor.getByRole('button', { name: 'Release the run' }).click();
  await expect(technician.getByText(/Released .* by Sanna Samplethorpe/)).toBeVisible();
});

test('a run that lacks a level is not accepted by itself; the missing level is named before and after saving', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  await lab(page);
  await field(page, 'Silver assay, low').fill('42.3');
  await expect(page.getByText('Not measured: Silver assay, high.')).toBeVisible();
  await page.getByRole('button', { name: 'Save run' }).click();
  const verdict = page.getByRole('region', { name: 'Verdict' });
  await expect(verdict).toContainText('Incomplete');
  await expect(verdict).toContainText(
    'Not measured: Silver assay, high. Without it the run is not accepted by itself.',
  );
  await expect(page.getByRole('button', { name: 'Release the run' })).toHaveCount(0);
  await expect(page.getByRole('link', { name: 'Repeat the run' })).toBeVisible();
});

test('what cannot be a result is said at its field; a half-typed run is there after a reload; without a network it waits and goes through once', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  await lab(page);
  await field(page, 'Conductivity, standard').fill('1415.5');
  await expect(page.getByText(/1415.5 has too many decimals/)).toBeVisible();
  await page.getByRole('button', { name: 'Save run' }).click();
  await expect(page.getByRole('alert')).toContainText('its field says why');
  await field(page, 'Conductivity, standard').fill('1415');
  await page.reload();
  await expect(field(page, 'Conductivity, standard')).toHaveValue('1415');

  const before = await query<{ n: string }>(nuvek.database, 'select count(*)::text as n from run');
  await page.route('**/runs', (route) => route.abort());
  await page.getByRole('button', { name: 'Save run' }).click();
  await expect(page.getByText('The run is kept on this device', { exact: false })).toBeVisible();
  await expect(page.getByText('1 waits on this device')).toBeVisible();
  await expect(field(page, 'Conductivity, standard')).toHaveValue('');
  await page.unroute('**/runs');
  await expect(page.getByText('1 waits on this device')).toHaveCount(0);
  const after = await query<{ n: string }>(nuvek.database, 'select count(*)::text as n from run');
  expect(Number(after[0]?.n) - Number(before[0]?.n)).toBe(1);
});

test('figures stand by level and reagent lot, with the rejected left out and counted', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'sanna');
  await lab(page);
  // By key: what comes in above it moves the link.
  await page.getByRole('link', { name: 'Figures by level and reagent lot' }).press('Enter');
  const row = page.getByRole('table', { name: 'Figures' }).getByRole('row', { name: /^Silver assay, low/ });
  await expect(row).toHaveCount(3);
  // The newest run is rejected: one of the current period's is not among those of all time.
  const cells = await row.first().getByRole('cell').allTextContents();
  expect(cells[0]).toBe('R-33');
  expect(Number(cells[1]) - Number(cells[5])).toBe(Number(cells[9]));
  expect(Number(cells[9])).toBeGreaterThan(0);
  expect(Number(cells[2])).toBeCloseTo(42, -0.5);

  // A new control lot: its mean and sd hold from now on, and the period begins anew.
  const engineer = await signedIn(browser, nuvek.url, 'egon');
  await engineer.goto(page.url());
  await engineer.getByRole('button', { name: 'Assign mean and sd of Silver assay, low' }).click();
  await engineer.getByLabel('Name, such as the control lot').fill('Control lot C-8');
  await engineer.getByLabel('Mean', { exact: true }).fill('44,5');
  await engineer.getByLabel('sd', { exact: true }).fill('1.2');
  await engineer.keyboard.press('Enter');
  await expect(engineer.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByRole('row', { name: /^Silver assay, low mg\/kg R-33 0 – – – / })).toBeVisible();
  await lab(page);
  await expect(page.getByText('mean 44.5, sd 1.2')).toBeVisible();
});

test('an engineer sets an analyte up, and it is measured at once', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.getByRole('navigation').getByRole('link', { name: 'Plan' }).click();
  await page.getByRole('link', { name: 'Set up an analyte' }).click();
  await page.getByRole('combobox', { name: 'Bench' }).click();
  await page.getByRole('option', { name: /Test bench/ }).click();
  await page.getByLabel('What is determined').fill('Hardness');
  await page.getByLabel('Unit').fill('mmol/L');
  for (const [place, name, mean, sd] of [
    [1, 'soft', '0,8', '0,05'],
    [2, 'hard', '3.2', '0.1'],
  ] as const) {
    const level = page.getByRole('group', { name: `Level ${place}` });
    await level.getByLabel('Level', { exact: true }).fill(name);
    await level.getByRole('combobox', { name: 'Control material' }).click();
    await page.getByRole('option', { name: 'Control material K-Co' }).click();
    await level.getByLabel('Mean').fill(mean);
    await level.getByLabel('sd').fill(sd);
  }
  await page.getByRole('checkbox', { name: /^10x/ }).uncheck();
  await page.getByRole('button', { name: 'Set it up' }).click();
  await field(page, 'Hardness, soft').fill('0.82');
  await expect(page.getByText('+0.40 sd')).toBeVisible();
});
