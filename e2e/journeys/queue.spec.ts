import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

/** Episodes are answered by Tilda, so that Sanna may review them, whatever the time of the day has left open. */
const ANSWER_ALL = `
  with given as (
    insert into answer (id, person_id, at, nothing_found, action)
    select e.id, p.id, now(), true, 'Measured again.' from episode e, person p
    where p.login = 'tilda' and e.state in ('open', 'found_late') and not e.gone returning id, person_id),
  of as (
    insert into answer_of (answer_id, signal_id)
    select given.id, g.id from given join signal g on g.episode_id = given.id where g.withdrawn_at is null
    returning signal_id),
  signals as (
    update signal set state = 'answered', answered_by = given.person_id from given
    where episode_id = given.id and withdrawn_at is null)
  update episode set state = 'answered', version = version + 1 from given where episode.id = given.id`;

const left = (database: string) =>
  query<{ id: string; name: string }>(
    database,
    `select e.id, c.name from episode e join characteristic c on c.id = e.characteristic_id
     where e.state in ('answered', 'found_late') and not e.gone order by e.sent_back desc, e.raised_at, e.id`,
  );

test('the queue is gone through by keys alone: one a decision, what is left is counted', async ({ browser, nuvek }) => {
  await query(nuvek.database, ANSWER_ALL);
  const before = await left(nuvek.database);
  expect(before.length).toBeGreaterThan(3);
  const supervisor = await signedIn(browser, nuvek.url, 'sanna');
  await supervisor.goto(`${nuvek.url}/signals`);
  await supervisor.getByRole('link', { name: `Review ${before.length}, one by one` }).press('Enter');
  const status = supervisor.getByRole('status').filter({ hasText: 'left' });
  await expect(status).toHaveText(`${before.length} are left`);

  // The first is accepted, the second sent back with a question, the third left for later.
  const accept = supervisor.getByRole('group', { name: 'Decision' }).getByRole('button').first();
  await expect(supervisor.getByText(before[0]?.name ?? '').first()).toBeVisible();
  await expect(accept).toBeFocused();
  await supervisor.keyboard.press('a');
  await expect(status).toHaveText(`${before.length - 1} are left`);
  await expect(accept).toBeFocused();
  await supervisor.keyboard.press('b');
  await supervisor.keyboard.type('With which gauge?');
  await supervisor.keyboard.press('Control+Enter');
  await expect(status).toHaveText(`${before.length - 2} are left`);
  await expect(accept).toBeFocused();
  await supervisor.keyboard.press('l');
  await expect(status).toHaveText(`${before.length - 2} are left, 1 left for later`);
  const after = await query<{ decision: string; remark: string | null }>(
    nuvek.database,
    `select r.decision, r.remark from review r join review_of o on o.review_id = r.id
     join signal g on g.id = o.signal_id where g.episode_id = any($1) group by r.id order by max(r.at)`,
    [before.map(({ id }) => id)],
  );
  expect(after.slice(-2)).toEqual([
    { decision: 'accepted', remark: null },
    { decision: 'sent_back', remark: 'With which gauge?' },
  ]);

  // All others are accepted, one key each; what was left for later is taken up at the end.
  for (let n = before.length - 3; n > 0; n -= 1) {
    await expect(accept).toBeFocused();
    await supervisor.keyboard.press('Enter');
    await expect(status).toHaveText(new RegExp(`^${n === 1 ? '1 is' : `${n} are`} left, 1 left for later`));
  }
  await supervisor.getByRole('button', { name: 'Take it up now' }).press('Enter');
  await expect(accept).toBeFocused();
  await supervisor.keyboard.press('Enter');
  await expect(supervisor.getByText('Nothing is left to review.')).toBeVisible();
  expect(await left(nuvek.database)).toHaveLength(0);
});

test('a list is narrowed, kept under a name, and opened again from its address', async ({ browser, nuvek }) => {
  const supervisor = await signedIn(browser, nuvek.url, 'sanna');
  await supervisor.goto(`${nuvek.url}/signals?state=all`);
  await supervisor.getByRole('button', { name: 'Narrow the list' }).click();
  const bar = supervisor.getByRole('region', { name: 'Narrow the list' });
  const pick = async (label: string, option: string) => {
    await bar.getByRole('combobox', { name: label }).click();
    await supervisor.getByRole('option', { name: option, exact: true }).click();
  };
  await pick('Station', 'Kiln');
  await pick('Rule', 'So many in a row on one side of the centre');
  const [{ count } = { count: '' }] = await query<{ count: string }>(
    nuvek.database,
    `select count(*) from episode e join characteristic c on c.id = e.characteristic_id
     join station s on s.id = c.station_id
     where s.name = 'Kiln' and e.joined is null and (not e.gone or e.state in ('answered', 'reviewed'))
       and exists (select from signal g where g.episode_id = e.id and g.rule->>'kind' = 'one_side'
                   and (g.withdrawn_at is null or e.gone))`,
  );
  await expect(supervisor.getByRole('status').filter({ hasText: /episodes?$/ })).toHaveText(
    count === '1' ? '1 episode' : `${count} episodes`,
  );
  await bar.getByLabel('Keep this filter as').fill('Kiln shifts');
  await bar.getByRole('button', { name: 'Keep' }).click();
  const address = supervisor.url();
  await bar.getByRole('button', { name: 'Show all' }).click();
  await bar.getByRole('button', { name: 'Kiln shifts' }).first().click();
  await expect(supervisor).toHaveURL(address);
  await expect(bar.getByRole('combobox', { name: 'Station' })).toHaveText('Kiln');

  // It is hers alone.
  const engineer = await signedIn(browser, nuvek.url, 'egon');
  await engineer.goto(address);
  await expect(engineer.getByRole('combobox', { name: 'Station' })).toHaveText('Kiln');
  await expect(engineer.getByRole('button', { name: 'Kiln shifts' })).toHaveCount(0);
  await engineer.goto(`${nuvek.url}/signals?state=all&from=2999-01-01`);
  await expect(engineer.getByText('No episode is like that.')).toBeVisible();
});
