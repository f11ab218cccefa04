import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

interface Plan {
  characteristics: { id: string; name: string; chart: string }[];
}

interface PathLimits {
  figures: { center: number; sigma: number };
  baseline: { points: number };
  lines: { panel: string; lower: number; center: number; upper: number }[];
  out: number;
}

interface View {
  version: number;
  phases: { id: string; name: string; state: string; figures: { center: number } | null }[];
  path: {
    points: number;
    trial: PathLimits;
    revised: PathLimits;
    findings: { number: number; broken: unknown[] }[];
  };
}

async function idOf(page: Page, url: string, name: string): Promise<string> {
  const plan = (await (await page.request.get(`${url}/api/plan`)).json()) as Plan;
  const found = plan.characteristics.find((c) => c.name === name);
  if (!found) throw new Error(`no ${name}`);
  return found.id;
}

async function pathOf(page: Page, url: string, id: string): Promise<View> {
  return (await (await page.request.get(`${url}/api/characteristics/${id}/limits`)).json()) as View;
}

/** What the analysis interface says of the samples that are stored, some of them set aside. */
async function asked(page: Page, nuvek: { url: string; database: string }, id: string, task: 'chart' | 'trust') {
  const samples = await query<{ readings: number[]; aside: boolean }>(
    nuvek.database,
    'select readings, aside from sample where characteristic_id = $1 order by taken_at, number',
    [id],
  );
  const answer = await page.request.post(`${nuvek.url}/api/analyze`, {
    headers: { origin: nuvek.url },
    data: {
      task,
      chart: 'xbar_r',
      points: samples.map(({ readings }) => ({ values: readings })),
      excluded: samples.flatMap(({ aside }, i) => (aside ? [i] : [])),
      rules: { preset: 'western_electric' },
    },
  });
  expect(answer.status()).toBe(200);
  return (await answer.json()) as unknown;
}

async function analysed(page: Page, nuvek: { url: string; database: string }, id: string) {
  return (await asked(page, nuvek, id, 'chart')) as {
    phases: { center: number; sigma: number; used: number }[];
    panels: { statistic: string; points: { lower: number; center: number; upper: number }[] }[];
  };
}

const figure = (value: number, decimals: number) => value.toFixed(decimals);

test('limits go from trial to force by keys alone, and every figure is that of the analysis', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  const id = await idOf(page, nuvek.url, 'Bead weight');
  await page.goto(`${nuvek.url}/charts/${id}`);
  await page.getByRole('link', { name: 'Limits', exact: true }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Limits of Bead weight' })).toBeVisible();
  const walk = page.getByRole('region', { name: 'Points that break rules' });
  const figures = page.getByRole('region', { name: 'Figures' });
  const first = await pathOf(page, nuvek.url, id);
  const started = first.path.findings.length;
  expect(started).toBeGreaterThanOrEqual(2);
  await expect(walk).toContainText(`1 of ${started}`);
  // Every point whose answer named a cause is set aside with it, by one key; the others are kept.
  const explained: Record<string, string> = { '16': 'Wrong piece measured', '23': 'Gauge not zeroed' };
  for (let looked = 0; looked < started; looked++) {
    const heading = await walk.getByRole('heading', { level: 3 }).textContent();
    const cause = explained[heading?.replace('Sample ', '') ?? ''];
    if (cause === undefined) {
      await page.keyboard.press('k');
    } else {
      // What was answered stands beside the point.
      await expect(walk).toContainText(`answered: ${cause}.`);
      const key = await walk.getByRole('button', { name: cause }).locator('kbd').textContent();
      await page.keyboard.press(key ?? '');
      await expect(walk).toContainText('Set aside by Egon Examplar');
      await page.keyboard.press('n');
    }
    const left = (await pathOf(page, nuvek.url, id)).path.findings.length;
    if (looked + 1 >= left) break;
  }
  const aside = await query<{ number: string }>(
    nuvek.database,
    'select number from sample where characteristic_id = $1 and aside order by number',
    [id],
  );
  expect(aside.map((row) => Number(row.number))).toEqual([16, 23]);

  // Figures side by side are those of the analysis of the same points.
  const revised = await analysed(page, nuvek, id);
  const [phase] = revised.phases;
  const mean = revised.panels.find((panel) => panel.statistic === 'mean')?.points[0];
  const row = (name: string) => figures.getByRole('row', { name: new RegExp(`^${name}`) });
  await expect(row('Centre').getByRole('cell').nth(1)).toHaveText(figure(phase?.center ?? 0, 3));
  await expect(row('Sigma').getByRole('cell').nth(1)).toHaveText(figure(phase?.sigma ?? 0, 4));
  await expect(row('Mean: UCL').getByRole('cell').nth(1)).toHaveText(figure(mean?.upper ?? 0, 3));
  await expect(row('Mean: LCL').getByRole('cell').nth(1)).toHaveText(figure(mean?.lower ?? 0, 3));
  await expect(row('Points used').getByRole('cell').nth(0)).toHaveText('28');
  await expect(row('Points used').getByRole('cell').nth(1)).toHaveText('26');

  // Taken back and set aside again: by one key each, and all of it is recorded.
  for (let n = 0; n < started; n++) {
    if ((await walk.getByRole('heading', { level: 3 }).textContent()) === 'Sample 16') break;
    await page.keyboard.press('p');
  }
  await expect(walk).toContainText('Sample 16');
  await page.keyboard.press('t');
  await expect(row('Points used').getByRole('cell').nth(1)).toHaveText('27');
  const key = await walk.getByRole('button', { name: 'Wrong piece measured' }).locator('kbd').textContent();
  await page.keyboard.press(key ?? '');
  await expect(row('Points used').getByRole('cell').nth(1)).toHaveText('26');

  const force = page.getByRole('form', { name: 'Put in force' });
  await force.getByLabel('Name').focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Balance on the old bench');
  await page.keyboard.press('Tab');
  await page.keyboard.type('Two slips of weighing left out.');
  await force.getByRole('button', { name: 'Put in force' }).focus();
  await page.keyboard.press('Enter');
  await expect(force.getByText('Say why they are put in force although').or(page.getByText('Revise'))).toBeVisible();
  if (await force.getByLabel('Why they are put in force all the same').isVisible()) {
    await expect(force.getByLabel('Why they are put in force all the same')).toBeFocused();
    await page.keyboard.type('Chance alone; the balance is checked.');
    await force.getByRole('button', { name: 'Put in force' }).focus();
    await page.keyboard.press('Enter');
  }
  await expect(page.getByRole('heading', { name: 'Revise' })).toBeVisible();
  const now = await pathOf(page, nuvek.url, id);
  expect(now.phases.map(({ state }) => state)).toEqual(['in_force']);
  expect(now.phases[0]?.figures?.center).toBeCloseTo(phase?.center ?? 0, 12);

  expect(await barriers(page)).toEqual([]);

  const deeds = await query<{ action: string }>(
    nuvek.database,
    `select action from trail where chain = $1 and action in ('sample_set_aside', 'sample_taken_back', 'limits_put_in_force')
     order by position`,
    [id],
  );
  expect(deeds.map((deed) => deed.action)).toEqual([
    'sample_set_aside',
    'sample_set_aside',
    'sample_taken_back',
    'sample_set_aside',
    'limits_put_in_force',
  ]);
});

test('a phase begins at a point, moves, and is merged back; the chart says so', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  const id = await idOf(page, nuvek.url, 'Peak temperature');
  const { path } = await pathOf(page, nuvek.url, id);
  const newest = path.points;
  await page.goto(`${nuvek.url}/charts/${id}`);
  await page.getByRole('group', { name: /Control chart/ }).focus();
  await page.keyboard.press('End');
  for (let i = 0; i < 14; i++) await page.keyboard.press('ArrowLeft');
  await page.getByRole('button', { name: 'Start a phase here …' }).click();
  await page.getByLabel('Name of the phase').fill('After the new burner');
  await page.getByRole('combobox', { name: 'Limits of the phase' }).click();
  await page.getByRole('option', { name: /carried over/ }).click();
  await page.getByRole('button', { name: 'Start the phase' }).click();
  await expect(page.getByText('After the new burner · in force')).toBeVisible();
  // The points come late: what was typed waits for them.
  await page.route(/\/chart\?last=2000$/, async (route) => {
    await new Promise((done) => setTimeout(done, 3000));
    await route.continue();
  });
  await page.goto(`${nuvek.url}/charts/${id}/limits`);
  const phases = page.getByRole('region', { name: 'Phases' });
  const row = phases.getByRole('row', { name: /After the new burner/ });
  await expect(row).toContainText('15');
  await row.getByRole('button', { name: 'Move its start …' }).click();
  await page.getByLabel('Starts at sample, by number').fill('99999');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('There is no such sample in this phase.')).toBeVisible();
  await page.getByLabel('Starts at sample, by number').fill(String(newest - 9));
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(row).toContainText(`sample ${newest - 9}`);
  await row.getByRole('button', { name: 'Rename …' }).click();
  await phases.getByLabel('Name').fill('New burner');
  await page.keyboard.press('Enter');
  const renamed = phases.getByRole('row', { name: /New burner/ });
  await renamed.getByRole('button', { name: 'Merge into the phase before' }).click();
  await expect(phases.getByRole('row')).toHaveCount(2);
});

test('who comes second is told, technicians look, and a supervisor restarts but puts nothing in force', async ({
  browser,
  nuvek,
}) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  const id = await idOf(egon, nuvek.url, 'Bead weight');
  const { version, phases } = await pathOf(egon, nuvek.url, id);
  const change = (page: Page, body: Record<string, unknown>) =>
    page.request.post(`${nuvek.url}/api/characteristics/${id}/limits/changes`, {
      headers: { origin: nuvek.url },
      data: { version, ...body },
    });
  const rename = { change: 'rename', phase: phases[0]?.id, name: 'First weeks' };
  expect((await change(tilda, rename)).status()).toBe(403);
  expect((await change(sanna, rename)).status()).toBe(403);

  await tilda.goto(`${nuvek.url}/charts/${id}/limits`);
  await expect(tilda.getByRole('region', { name: 'Points that break rules' })).toBeVisible();
  await expect(tilda.getByRole('form', { name: 'Put in force' })).toHaveCount(0);
  await expect(tilda.getByRole('button', { name: 'Wrong piece measured' })).toHaveCount(0);

  // Both have the page before them; what the first does shows, and the second is told.
  await sanna.goto(`${nuvek.url}/charts/${id}/limits`);
  await sanna.getByRole('button', { name: 'Wrong piece measured' }).click();
  await expect(sanna.getByRole('region', { name: 'Points that break rules' })).toContainText(
    'Set aside by Sanna Samplethorpe',
  );
  expect((await change(egon, rename)).status()).toBe(409);
  await egon.goto(`${nuvek.url}/charts/${id}?sample=20`);
  await egon.getByRole('button', { name: 'Restart the rules here …' }).click();
  await egon.getByLabel('What was corrected').fill('Nozzle cleaned.');
  await egon.getByRole('button', { name: 'Restart here' }).click();
  await expect(egon.getByRole('region', { name: /^Sample/ })).toContainText('Restart by Egon Examplar');
  await expect(egon.getByTestId('restart')).toHaveCount(1);
  await egon.getByRole('button', { name: 'Undo the restart' }).click();
  await expect(egon.getByTestId('restart')).toHaveCount(0);
});

test('a signal whose point was set aside is reviewed by somebody else', async ({ browser, nuvek }) => {
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  const id = await idOf(sanna, nuvek.url, 'Flow rate');
  await sanna.goto(`${nuvek.url}/signals`);
  const before = await query<{ id: string }>(
    nuvek.database,
    `select id from episode where characteristic_id = $1 and state = 'open' and not gone`,
    [id],
  );
  expect(before.length).toBeGreaterThan(0);
  await sanna.goto(`${nuvek.url}/charts/${id}`);
  await sanna.getByRole('group', { name: /Control chart/ }).focus();
  await sanna.keyboard.press('End');
  await sanna.getByRole('button', { name: 'Set aside …' }).click();
  await sanna.getByLabel('Another cause, in words').fill('Wrong cartridge in the rig.');
  await sanna.getByRole('button', { name: 'Set aside', exact: true }).click();
  await expect(sanna.getByRole('region', { name: /^Sample/ })).toContainText('Set aside by Sanna Samplethorpe');
  await sanna.goto(`${nuvek.url}/signals/${before[0]?.id ?? ''}`);
  await expect(
    sanna.getByText('a point was set aside, and the finding no longer holds', { exact: false }),
  ).toBeVisible();
  await expect(
    sanna.getByText('made a finding of this episode go away; somebody else reviews that', { exact: false }),
  ).toBeVisible();
  const egon = await signedIn(browser, nuvek.url, 'egon');
  await egon.goto(`${nuvek.url}/signals/${before[0]?.id ?? ''}`);
  const decision = egon.getByRole('group', { name: 'Decision' });
  await expect(decision.getByRole('button', { name: 'Overrule' })).toBeVisible();
  await expect(decision.getByRole('button', { name: 'Send back' })).toHaveCount(0);
  await decision.getByRole('button', { name: 'Accept' }).click();
  await expect(egon.getByText('Egon Examplar reviewed', { exact: false })).toBeVisible();
});

test('beside a chart stands whether it can be trusted, as the analysis finds it, and what to do', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  const id = await idOf(page, nuvek.url, 'Bead weight');
  await page.goto(`${nuvek.url}/charts/${id}`);
  const trust = page.getByRole('region', { name: 'Trust check' });
  const { checks } = (await asked(page, nuvek, id, 'trust')) as { checks: { name: string; value: number | null }[] };
  const value = (name: string) => {
    const found = checks.find((check) => check.name === name)?.value;
    if (found == null) throw new Error(`no figure of ${name}`);
    return found;
  };
  expect(value('stable')).toBeGreaterThan(0);
  await expect(trust.getByText(`${value('stable')} signals in this phase: the process was not stable.`)).toBeVisible();
  await expect(trust.getByText('Answer the signals first', { exact: false })).toBeVisible();
  await expect(trust.getByText(`The limits rest on ${value('enough')} points`, { exact: false })).toBeVisible();
  await expect(trust.getByText(`${value('resolution')} different spreads within`, { exact: false })).toBeVisible();
  await expect(trust.getByRole('listitem')).toHaveCount(6);
  expect(await barriers(page)).toEqual([]);
});

test('limits are taken from a stretch that is named, and the page says so', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  const id = await idOf(page, nuvek.url, 'Bead weight');
  await page.goto(`${nuvek.url}/charts/${id}/limits`);
  await expect(page.getByText('The path uses all 28 points of the phase.')).toBeVisible();
  const stretch = page.getByRole('form', { name: 'A stretch of the phase' });
  await stretch.getByLabel('From sample number').fill('99');
  await stretch.getByRole('button', { name: 'Use this stretch' }).click();
  await expect(stretch).toContainText('There is no such sample in this phase.');
  await stretch.getByLabel('From sample number').fill('1');
  await stretch.getByLabel('To sample number').fill('15');
  await stretch.getByRole('button', { name: 'Use this stretch' }).click();
  await expect(page.getByText('The path uses 15 points, a stretch of the phase.')).toBeVisible();
  const put = page.getByRole('form', { name: 'Put in force' });
  await expect(put.getByLabel('Last sample, by number')).toHaveValue('15');
  await put.getByLabel('Why they are put in force all the same').fill('The line runs with these settings again.');
  await put.getByRole('button', { name: 'Put in force' }).click();
  await expect(page.getByText('in force', { exact: true })).toBeVisible();
  const [kept] = await query<{ points: number; basis: { from: string } }>(
    nuvek.database,
    `select l.baseline_points as points, l.basis from limits l join phase p on p.id = l.phase_id
     where p.characteristic_id = $1 and l.state = 'in_force'`,
    [id],
  );
  expect(kept).toMatchObject({ points: 15, basis: { from: 'stretch' } });
  await stretch.getByRole('button', { name: 'Use all of the phase' }).click();
  await expect(page.getByText('The path uses all 28 points of the phase.')).toBeVisible();
});
