import { query } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

/** Enters samples of viscosity, each far above its limits; nothing is usual about them. */
const HIGH = ['420', '430', '425'];

test('what one shift of the mean breaks is asked once, and again with one key when it goes on', async ({
  browser,
  nuvek,
}) => {
  const technician = await signedIn(browser, nuvek.url, 'tilda');
  const asks = technician.getByRole('region', { name: 'Episode' });
  const enter = async (reading: string) => {
    await technician.getByLabel('Reading').fill(reading);
    await technician.keyboard.press('Enter');
    const unusual = technician.getByText('is unusual', { exact: false });
    const result = technician.getByText(/Sample \d+ is saved/);
    await unusual.or(asks).or(result).first().waitFor();
    if (await unusual.isVisible()) await technician.keyboard.press('Control+Enter');
  };
  await openEntry(technician, /Viscosity/);
  await enter(HIGH[0] ?? '');
  await expect(asks.getByText(/lies above its upper control limit/)).toBeVisible();
  await technician.keyboard.press('Escape');

  // It goes on while the first question is open: nothing new is asked.
  await enter(HIGH[1] ?? '');
  await expect(technician.getByText('A pattern that is known goes on.', { exact: false })).toBeVisible();
  const open = await query<{ id: string; signals: number }>(
    nuvek.database,
    `select e.id, count(*)::int as signals from episode e join signal g on g.episode_id = e.id
     join characteristic c on c.id = e.characteristic_id
     where c.name = 'Viscosity' and e.aspect = 'location' and e.state = 'open' group by e.id`,
  );
  expect(open).toHaveLength(1);
  expect(open[0]?.signals).toBeGreaterThanOrEqual(2);
  await technician.goto(`${nuvek.url}/signals/${open[0]?.id ?? ''}`);
  await expect(technician.getByRole('heading', { level: 1 })).toContainText('The value has run high since sample');
  await expect(technician.getByRole('heading', { level: 1 })).toContainText('two beyond the limit');
  await technician.getByRole('radio', { name: 'Another cause' }).check();
  await technician.getByLabel('The cause, in words').fill('Dosing valve stuck');
  await technician.getByLabel('What was done').fill('Valve cleaned.');
  await technician.getByRole('button', { name: 'Save answer' }).click();
  await expect(technician.getByText('Waits for the supervisor.')).toBeVisible();

  // After its answer it asks again, and one key gives the same.
  await technician.goto(`${nuvek.url}/rounds`);
  await openEntry(technician, /Viscosity/);
  await enter(HIGH[2] ?? '');
  await expect(asks.getByRole('button', { name: /^The same cause as .*: Dosing valve stuck/ })).toBeVisible();
  await technician.keyboard.press('Alt+Enter');
  await expect(technician.getByLabel('Reading')).toBeVisible();
  const answers = await query<{ cause: string }>(
    nuvek.database,
    'select a.cause_text as cause from answer a where exists (select from answer_of o join signal g on g.id = o.signal_id where o.answer_id = a.id and g.episode_id = $1)',
    [open[0]?.id ?? ''],
  );
  expect(answers.map(({ cause }) => cause)).toEqual(['Dosing valve stuck', 'Dosing valve stuck']);

  // The supervisor sees one line, one sentence, both answers, and decides once.
  const supervisor = await signedIn(browser, nuvek.url, 'sanna');
  await supervisor.goto(`${nuvek.url}/signals?state=answered`);
  await supervisor
    .getByRole('grid')
    .getByRole('link', { name: /The value has run high/ })
    .click();
  await expect(supervisor.getByRole('article')).toHaveCount(2);
  await supervisor.getByRole('form', { name: 'Review' }).getByRole('button', { name: 'Accept' }).click();
  await expect(supervisor.getByText('Reviewed', { exact: true })).toBeVisible();

  // After its review the pattern that goes on is a new episode, which names the one before.
  await enter('428');
  await expect(asks).toBeVisible();
  const [after] = await query<{ id: string }>(nuvek.database, 'select id from episode where follows = $1', [
    open[0]?.id ?? '',
  ]);
  await technician.goto(`${nuvek.url}/signals/${after?.id ?? ''}`);
  await expect(technician.getByRole('link', { name: /which were reviewed/ })).toBeVisible();
});

test('an episode says what differs inside it, what happened near it, and what was made meanwhile', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await page.goto(`${nuvek.url}/signals`);
  await page
    .getByRole('grid')
    .getByRole('link', { name: /The mean has run high since sample/ })
    .first()
    .click();
  const explained = page.getByRole('region', { name: 'What may explain it' });
  await expect(explained.getByRole('heading', { name: 'What differs inside it' })).toBeVisible();
  await expect(explained.getByText('mould changed from', { exact: false })).toBeVisible();
  const answer = page.getByRole('form', { name: 'Answer' });
  await expect(answer.getByText(/Made since the last clean sample \(\d+, .*Is it held\?/)).toBeVisible();
  await answer.getByRole('checkbox').first().check();
  await answer.getByRole('radio', { name: 'It is held' }).check();
  await answer.getByRole('radio', { name: 'Tool worn' }).check();
  await answer.getByLabel('What was done').fill('Tool changed.');
  await answer.getByLabel('What else there is to say').fill('The tray is in the cage.');
  await answer.getByRole('button', { name: 'Save answer' }).click();
  const said = page.getByRole('article');
  await expect(said).toContainText('The tray is in the cage.');
  await expect(said).toContainText('✓ Measure one more cartridge from the same mould.');
  await expect(said).toContainText('What was made since the last clean sample is held.');
});

test('many answers are accepted at once, listed before it is done; what refuses it is named', async ({
  browser,
  nuvek,
}) => {
  const technician = await signedIn(browser, nuvek.url, 'milo');
  const open = (await (await technician.request.get(`${nuvek.url}/api/episodes?state=open`)).json()) as {
    id: string;
    version: number;
  }[];
  for (const { id, version } of open.slice(0, 2)) {
    const given = await technician.request.post(`${nuvek.url}/api/episodes/${id}/answers`, {
      data: { version, nothing_found: true, action: 'Measured again.' },
    });
    expect(given.status()).toBe(200);
  }
  const supervisor = await signedIn(browser, nuvek.url, 'sanna');
  await supervisor.goto(`${nuvek.url}/signals?state=answered`);
  const rows = supervisor.getByRole('grid').locator('.MuiDataGrid-row');
  await expect(rows.nth(1)).toBeVisible();
  const before = await rows.count();
  await rows.nth(0).getByRole('checkbox').check();
  await rows.nth(1).getByRole('checkbox').check();
  const many = supervisor.getByRole('region', { name: 'Decide on many at once' });
  await expect(many.getByText('2 episodes are chosen')).toBeVisible();
  await expect(many.getByRole('listitem')).toHaveCount(2);
  await many.getByRole('button', { name: 'Accept' }).click();
  await expect(rows).toHaveCount(before - 2);
  await expect(many).toHaveCount(0);
});
