import { query } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

test('what is open too long is raised to the supervisor’s screen, once, and leaves it when it is answered', async ({
  browser,
  nuvek,
}) => {
  const waiting = async () => {
    const [{ count } = { count: 0 }] = await query<{ count: number }>(
      nuvek.database,
      `select count(*)::int as count from episode
       where state in ('open', 'sent_back') and not gone and escalated_at is not null`,
    );
    return count;
  };
  const supervisor = await signedIn(browser, nuvek.url, 'sanna');
  const raised = supervisor.getByRole('link', { name: /open too long$/ });
  await expect(raised).toBeVisible({ timeout: 15_000 });
  // What was open before the server began is raised one after the other.
  const due = () =>
    query(
      nuvek.database,
      `select 1 from episode where state = 'open' and not gone and not trial and escalated_at is null
         and raised_at < now() - interval '40 minutes'`,
    );
  await expect.poll(async () => (await due()).length).toBe(0);
  const before = await waiting();
  await expect(raised).toHaveText(`◆ ${before} open too long`);

  const technician = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(technician, /Viscosity/);
  await technician.getByLabel('Reading').fill('430');
  await technician.keyboard.press('Enter');
  await technician.getByText('is unusual', { exact: false }).waitFor();
  await technician.keyboard.press('Control+Enter');
  await technician.getByRole('form', { name: 'Answer' }).waitFor();
  // The clock goes on by half an hour.
  const begun = await query<{ id: string }>(
    nuvek.database,
    `update episode e set raised_at = raised_at - interval '31 minutes' from characteristic c
     where c.id = e.characteristic_id and c.name = 'Viscosity' and e.state = 'open' returning e.id`,
  );
  expect(begun.length).toBeGreaterThan(0);
  await expect(raised).toHaveText(`◆ ${before + begun.length} open too long`, { timeout: 15_000 });
  const told = await query(
    nuvek.database,
    "select 1 from trail where action = 'episode_escalated' and object = any($1::uuid[])",
    [begun.map(({ id }) => id)],
  );
  expect(told).toHaveLength(begun.length);

  await raised.click();
  await expect(
    supervisor.getByRole('row', { name: /Viscosity.*open too long: raised to supervisors/ }).first(),
  ).toBeVisible();
  await technician.getByRole('radio', { name: 'Looked, nothing found' }).check();
  await technician.keyboard.press('Control+Enter');
  await expect(raised).toHaveText(`◆ ${before + begun.length - 1} open too long`);
});
