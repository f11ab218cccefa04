import { query } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

/** The smallest picture that there is. */
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

const openEpisode = async (database: string, of: string) => {
  const [episode] = await query<{ id: string }>(
    database,
    `select e.id from episode e join characteristic c on c.id = e.characteristic_id
     where c.name = $1 and e.state in ('open', 'sent_back') and not e.gone order by e.raised_at desc limit 1`,
    [of],
  );
  if (!episode) throw new Error(`no open episode of ${of}`);
  return episode.id;
};

test('an answer with a photo waits while the server is away; its restart stands and goes with the answer', async ({
  browser,
  nuvek,
}) => {
  const here = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(here, /Viscosity/);
  await here.getByLabel('Reading').fill('430');
  await here.keyboard.press('Enter');
  await here.getByText('is unusual', { exact: false }).waitFor();
  await here.keyboard.press('Control+Enter');
  const asks = here.getByRole('region', { name: 'Episode' });
  await expect(asks.getByRole('form', { name: 'Answer' })).toBeVisible();
  await here.getByRole('radio', { name: 'Another cause' }).waitFor();
  const id = await openEpisode(nuvek.database, 'Viscosity');

  await nuvek.stop();
  await here.getByRole('radio', { name: 'Another cause' }).check();
  await here.getByLabel('The cause, in words').fill('Dosing valve stuck');
  await here.getByLabel('Propose it for the catalogue').check();
  await here.getByLabel('What was done').fill('Valve cleaned.');
  await here.getByLabel(/^The process was corrected/).check();
  const choose = here.locator('input[type=file]');
  await choose.setInputFiles({ name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('no picture') });
  await expect(here.getByText('notes.txt is no PNG, JPEG or PDF of at most 10 MB.')).toBeVisible();
  await choose.setInputFiles({ name: 'valve.png', mimeType: 'image/png', buffer: PNG });
  await expect(here.getByRole('button', { name: 'Remove valve.png' })).toBeVisible();
  await here.getByRole('button', { name: 'Save answer' }).click();
  await expect(here.getByRole('link', { name: '1 waits on this device' })).toBeVisible();
  // The range asks too; that can wait. The next sample goes behind the answer.
  await here.keyboard.press('Escape');
  await here.getByLabel('Reading').fill('320');
  await here.keyboard.press('Enter');
  await expect(here.getByRole('link', { name: '2 wait on this device' })).toBeVisible({ timeout: 15_000 });

  await nuvek.start();
  await expect(here.getByText(/on this device/)).toHaveCount(0, { timeout: 20_000 });
  const [kept] = await query<{ waited: boolean; number: string; restart: boolean }>(
    nuvek.database,
    `select a.arrived_at > a.at as waited, s.number, s.restart from answer a
     join planned_restart p on p.answer_id = a.id
     join sample s on s.characteristic_id = p.characteristic_id and s.taken_at = p.starts_at
     where a.action = 'Valve cleaned.'`,
  );
  expect(kept).toMatchObject({ waited: true, restart: true });

  // The supervisor sees the photo and overrules; the restart goes too.
  const supervisor = await signedIn(browser, nuvek.url, 'sanna');
  await supervisor.goto(`${nuvek.url}/signals/${id}`);
  const answer = supervisor.getByRole('article').first();
  await expect(answer).toContainText(`rules start afresh with sample ${kept?.number ?? ''}`);
  const photo = answer.getByRole('img', { name: 'valve.png' });
  await expect.poll(() => photo.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(1);
  const served = await supervisor.request.get(nuvek.url + ((await photo.getAttribute('src')) ?? ''));
  expect(served.headers()).toMatchObject({
    'content-type': 'image/png',
    'content-disposition': "attachment; filename*=UTF-8''valve.png",
    'content-security-policy': "default-src 'none'; sandbox",
    'x-content-type-options': 'nosniff',
  });
  const review = supervisor.getByRole('form', { name: 'Review' });
  await review.getByLabel('Remark, question or reason').fill('The valve was clean.');
  await review.getByRole('button', { name: 'Overrule' }).click();
  await expect(answer).toContainText('its restart was taken back');
  const restarts = await query(nuvek.database, 'select 1 from sample where restart and number = $1', [kept?.number]);
  expect(restarts).toHaveLength(0);
});

test('what is proposed is placed by an engineer and can be named from then on; an answer is added to', async ({
  browser,
  nuvek,
}) => {
  const id = await openEpisode(nuvek.database, 'Wall thickness');
  const here = await signedIn(browser, nuvek.url, 'milo');
  await here.goto(`${nuvek.url}/signals/${id}`);
  await here.getByRole('radio', { name: 'Another cause' }).check();
  await here.getByLabel('The cause, in words').fill('Ram packing leaks');
  await here.getByLabel('Propose it for the catalogue').check();
  await here.getByLabel('What was done').fill('Told the maintenance.');
  await here.getByRole('button', { name: 'Save answer' }).click();
  const answer = here.getByRole('article').last();
  await expect(answer).toContainText('Ram packing leaks');
  await answer.getByRole('button', { name: 'Add to it …' }).click();
  await here.getByLabel('What there is to add').fill('The packing was changed at noon.');
  await here.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(answer).toContainText('Milo Mockridge added');
  await expect(answer).toContainText('The packing was changed at noon.');

  const engineer = await signedIn(browser, nuvek.url, 'egon');
  await engineer.goto(`${nuvek.url}/plan/causes`);
  const proposed = engineer.getByRole('region', { name: 'Proposed' });
  await expect(proposed).toContainText('proposed by Milo Mockridge');
  await proposed.getByRole('button', { name: 'Take up Ram packing leaks' }).click();
  await engineer.getByRole('combobox', { name: 'Group' }).click();
  await engineer.getByRole('option', { name: 'Machine' }).click();
  await engineer.getByRole('button', { name: 'Keep' }).click();
  await expect(engineer.getByRole('region', { name: 'Machine' })).toContainText('Ram packing leaks');
  await expect(proposed).toHaveCount(0);
  const { causes } = await (async () => {
    const response = await here.request.get(`${nuvek.url}/api/causes`);
    return { causes: (await response.json()) as { name: string; group: string }[] };
  })();
  expect(causes.find(({ name }) => name === 'Ram packing leaks')?.group).toBe('machine');
  // A technician looks at the catalogue and changes nothing.
  await here.goto(`${nuvek.url}/plan/causes`);
  await expect(here.getByRole('region', { name: 'Machine' })).toContainText('Ram packing leaks');
  await expect(here.getByRole('button', { name: 'Add a cause' })).toHaveCount(0);
});
