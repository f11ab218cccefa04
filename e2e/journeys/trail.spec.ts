import { readFile } from 'node:fs/promises';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

test('the trail is narrowed, read back to its beginning, and handed out as a table', async ({ browser, nuvek }) => {
  const supervisor = await signedIn(browser, nuvek.url, 'sanna');
  await supervisor.getByRole('link', { name: 'Trail' }).click();
  const narrow = supervisor.getByRole('region', { name: 'Narrow the trail' });
  const pick = async (label: string, option: string) => {
    await narrow.getByRole('combobox', { name: label, exact: true }).click();
    await supervisor.getByRole('option', { name: option, exact: true }).click();
  };
  await pick('Who', 'Milo Mockridge');
  await pick('What', 'Episode answered');
  const grid = supervisor.getByRole('grid', { name: 'Trail' });
  await expect(grid.getByRole('row', { name: /Milo Mockridge Episode answered/ }).first()).toBeVisible();
  await expect(grid.getByText('Tilda Testwell')).toHaveCount(0);
  const [{ count } = { count: '0' }] = await query<{ count: string }>(
    nuvek.database,
    `select count(*) from trail t join person p on p.id = t.person_id
     where p.login = 'milo' and t.action = 'episode_answered'`,
  );
  await expect(supervisor.getByText(`of ${Math.min(Number(count), 200)}`, { exact: false })).toBeVisible();

  // Values are told in words.
  await expect(grid.getByText(/^state: open → answered/).first()).toBeVisible();

  const [download] = await Promise.all([
    supervisor.waitForEvent('download'),
    narrow.getByRole('link', { name: 'Download as CSV' }).click(),
  ]);
  const lines = (await readFile(await download.path(), 'utf8')).split('\r\n');
  expect(lines[0]).toBe('chain,position,at,person,action,characteristic,station,object,detail');
  expect(lines.filter((line) => line.includes(',Milo Mockridge,episode_answered,'))).toHaveLength(Number(count));

  // Back to the beginning, page after page.
  await supervisor.goto(`${nuvek.url}/trail`);
  const all = await query(nuvek.database, 'select 1 from trail');
  const file = await supervisor.request.get(`${nuvek.url}/api/trail.csv`);
  const rows = (await file.text()).trimEnd().split('\r\n');
  expect(Math.abs(rows.length - 1 - all.length)).toBeLessThan(5);
  await supervisor.getByRole('button', { name: 'Older entries' }).click();
  await expect(supervisor.getByText('of 400', { exact: false })).toBeVisible();
});
