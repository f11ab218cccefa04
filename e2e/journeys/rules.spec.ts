import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

test('rules are kept under a name, replayed over history, changed as a version, and taken over by who uses them', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  const [wall] = await query<{ id: string }>(
    nuvek.database,
    `select c.id from characteristic c join station s on s.id = c.station_id
     where c.name = 'Wall thickness' and s.name = 'Casting line 1'`,
  );
  await page.goto(`${nuvek.url}/plan/characteristics/${wall?.id}`);
  const replayed = page.getByRole('region', { name: 'Replayed over its own history' });
  await expect(replayed).toContainText(/they would have raised \d+ episodes?\./);
  // Rules as they are find what they found: none with a cause is missed.
  await expect(replayed).toContainText('and missed 0.');

  const rules = page.getByRole('combobox', { name: 'Rules', exact: true });
  await rules.click();
  await page.getByRole('option', { name: 'An own list' }).click();
  await page.getByLabel('So many in a row on one side of the centre', { exact: true }).check();
  await page.getByLabel('So many in a row on one side of the centre: in a row').fill('12');
  await page.getByRole('combobox', { name: 'on', exact: true }).nth(1).click();
  await page.getByRole('option', { name: 'not the spread' }).click();
  // The long run alone misses what one sample told, and spares what was nothing.
  await expect(replayed).toContainText(/they would have found \d+ and missed [1-9]/);
  const told = await page.request.post(`${nuvek.url}/api/characteristics/${wall?.id}/replay`, {
    headers: { origin: nuvek.url },
    data: {
      rule_set: { list: [{ kind: 'one_side', n: 12, panels: 'location' }] },
      k: 3,
      since: new Date(Date.now() - 8 * 7 * 86_400_000).toISOString(),
    },
  });
  const figures = (await told.json()) as { found: number; missed: number; spared: number; episodes: number };
  await expect(replayed).toContainText(`they would have found ${figures.found} and missed ${figures.missed}.`);

  await page.getByRole('button', { name: 'Keep these rules under a name …' }).click();
  await page.getByRole('button', { name: 'Name it' }).click();
  await expect(page.getByText('Give it a name of 1 to 80 characters.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Name', exact: true }).last().fill('Long runs');
  await page.getByRole('button', { name: 'Name it' }).click();
  await expect(rules).toHaveText('Long runs, version 1');
  await page.getByRole('button', { name: 'Save the change' }).click();
  await expect(page.getByText('Wall thickness is changed.')).toBeVisible();

  await page.getByRole('link', { name: 'Rule sets' }).click();
  const set = page.getByRole('region', { name: 'Long runs' });
  await expect(set).toContainText('twelve on one side');
  await expect(set).toContainText('One characteristic uses it');
  expect(await barriers(page)).toEqual([]);
  await set.getByRole('button', { name: 'Change …' }).click();
  await set.getByLabel('So many in a row on one side of the centre: in a row').fill('14');
  await set.getByRole('button', { name: 'Save as version 2' }).click();
  await expect(set).toContainText('version 2 by Egon Examplar');
  await expect(set).toContainText('one of them an older version.');
  const kept = () =>
    query<{ n: number; version: number }>(
      nuvek.database,
      `select (rule_set->'list'->0->>'n')::int as n, rule_set_version as version from characteristic where id = $1`,
      [wall?.id],
    );
  expect(await kept()).toEqual([{ n: 12, version: 1 }]);
  await set.getByRole('button', { name: 'Let it take version 2' }).click();
  await expect(set).not.toContainText('older version');
  expect(await kept()).toEqual([{ n: 14, version: 2 }]);
});

test('who may not set up names no rules, by address or by request', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  const named = await page.request.post(`${nuvek.url}/api/plan/rule-sets`, {
    headers: { origin: nuvek.url },
    data: { name: 'Mine', rules: [{ kind: 'beyond', k: 3 }] },
  });
  expect(named.status()).toBe(403);
});
