import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

interface Page {
  samples: { number: number; content: unknown }[];
  next: string;
  more: boolean;
}

test('a program is given a token, reads page by page what a reader reads, and what has changed since', async ({
  browser,
  nuvek,
}) => {
  const characteristics = await query<{ id: string; name: string; station: string; many: string }>(
    nuvek.database,
    `select c.id, c.name, s.name as station, (select count(*) from sample where characteristic_id = c.id) as many
     from characteristic c join station s on s.id = c.station_id`,
  );
  const mine = characteristics.find(({ name }) => name === 'Pinholes');
  const other = characteristics.find(({ station }) => station !== mine?.station);
  const egon = await signedIn(browser, nuvek.url, 'egon');
  await egon.goto(`${nuvek.url}/plan/devices/new`);
  await egon.getByLabel('Name').fill('Quality warehouse');
  await egon.getByRole('combobox', { name: 'What it does' }).click();
  await egon.getByRole('option', { name: 'Program that reads with a token' }).click();
  await egon.getByRole('combobox', { name: 'Stations it reads' }).click();
  await egon.getByRole('option', { name: new RegExp(`^${mine?.station ?? ''} `) }).click();
  await egon.keyboard.press('Escape');
  await egon.getByRole('button', { name: 'Set it up' }).click();
  await expect(egon.getByText('GET /api/openapi.json')).toBeVisible();
  expect(await barriers(egon)).toEqual([]);
  const token = await egon.getByRole('textbox', { name: 'Token' }).inputValue();
  await egon.getByRole('button', { name: 'It is copied' }).click();
  const region = egon.getByRole('region', { name: 'Quality warehouse' });
  await expect(region).toContainText('never read yet');

  // As the program does, without a browser.
  const asked = async (path: string) => {
    const response = await fetch(`${nuvek.url}${path}`, { headers: { authorization: `Bearer ${token}` } });
    return { status: response.status, text: await response.text() };
  };
  const samples = `/api/characteristics/${mine?.id ?? ''}/samples`;
  const pages = async (from: string) => {
    const all: Page['samples'] = [];
    for (let after = from; ;) {
      const page = JSON.parse((await asked(`${samples}?limit=500${after}`)).text) as Page;
      all.push(...page.samples);
      after = `&after=${page.next}`;
      if (!page.more) return { all, next: after };
    }
  };
  const first = await pages('');
  expect(first.all.length).toBe(Number(mine?.many));
  expect(new Set(first.all.map(({ number }) => number)).size).toBe(first.all.length);

  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(tilda, /Pinholes/);
  await tilda.getByRole('button', { name: /Bubble/ }).click();
  await tilda.getByRole('button', { name: 'Save sample' }).click();
  await expect.poll(async () => (await pages(first.next)).all.length).toBe(1);

  const table = await asked(`/api/data/samples?of=${mine?.id ?? ''}&shape=across&as=csv&last=5`);
  expect([table.status, table.text.trim().split('\n').length]).toEqual([200, 6]);
  expect((await asked(`/api/characteristics/${other?.id ?? ''}/chart`)).status).toBe(404);
  expect((await asked('/api/accounts')).status).toBe(401);
  await egon.reload();
  await expect(region).toContainText('read just now');
  await region.getByRole('button', { name: 'Revoke Quality warehouse …' }).click();
  await expect(region).toContainText('It reads nothing any more.');
  await region.getByRole('button', { name: 'Revoke Quality warehouse', exact: true }).click();
  await expect(region).toContainText('revoked');
  expect((await asked(samples)).status).toBe(401);
});
