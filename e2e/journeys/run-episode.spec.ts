import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

test('a run that is rejected asks once for an analyte, and one answer and one review are of all its levels', async ({
  browser,
  nuvek,
}) => {
  const [open] = await query<{ id: string; run: string; number: string; signals: string }>(
    nuvek.database,
    `select e.id, e.run_id as run, r.number, count(g.*) as signals
     from episode e join run r on r.id = e.run_id join signal g on g.episode_id = e.id
     where e.state = 'open' group by e.id, r.id order by r.taken_at desc limit 1`,
  );
  if (!open) throw new Error('no run asks');
  expect(Number(open.signals)).toBeGreaterThan(1);
  const lotta = await signedIn(browser, nuvek.url, 'lotta');
  await lotta.goto(`${nuvek.url}/lab/runs/${open.run}`);
  await lotta.getByRole('link', { name: 'Answer', exact: true }).click();
  await expect(lotta).toHaveURL(new RegExp(`/signals/${open.id}$`));
  await expect(
    lotta.getByRole('heading', { name: new RegExp(`^Run ${open.number} .* is out of control: `) }),
  ).toBeVisible();
  await expect(lotta.getByRole('group', { name: /Control chart/ })).toHaveCount(2);
  await lotta.getByRole('radio', { name: 'Looked, nothing found' }).check();
  await lotta.getByLabel('What was done').fill('Measured both levels once more.');
  await lotta.getByRole('button', { name: /^Save answer/ }).click();
  await expect(lotta.getByText('Measured both levels once more.').first()).toBeVisible();

  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  await sanna.goto(`${nuvek.url}/signals/${open.id}`);
  await sanna.getByRole('button', { name: /^Accept/ }).click();
  await expect(lotta.getByText('Reviewed', { exact: true }).first()).toBeVisible();
  const states = await query<{ state: string }>(
    nuvek.database,
    'select distinct state from signal where episode_id = $1',
    [open.id],
  );
  expect(states).toEqual([{ state: 'reviewed' }]);
});
