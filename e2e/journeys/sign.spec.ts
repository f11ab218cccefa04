import { query } from '../support/nuvek';
import { expect, openEntry, PASSWORD, signedIn, test } from '../support/test';

test('from an episode to a signature, across two screens; what is added later is shown against it', async ({
  browser,
  nuvek,
}) => {
  const technician = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(technician, /Viscosity/);
  await technician.getByLabel('Reading').fill('430');
  await technician.keyboard.press('Enter');
  await technician.getByText('is unusual', { exact: false }).waitFor();
  await technician.keyboard.press('Control+Enter');
  await technician.getByRole('radio', { name: 'Looked, nothing found' }).check();
  await technician.keyboard.press('Control+Enter');
  const answered = () =>
    query<{ id: string }>(
      nuvek.database,
      `select e.id from episode e join characteristic c on c.id = e.characteristic_id
       where c.name = 'Viscosity' and e.state = 'answered' order by e.raised_at desc limit 1`,
    );
  await expect.poll(async () => (await answered()).length).toBe(1);
  const id = (await answered())[0]?.id ?? '';

  // Decided, it counts at once, and is listed as not signed.
  const supervisor = await signedIn(browser, nuvek.url, 'sanna');
  await supervisor.goto(`${nuvek.url}/signals/${id}`);
  await supervisor.getByRole('button', { name: 'Accept' }).click();
  await expect(supervisor.getByRole('article')).toContainText('not signed yet');
  await supervisor.getByRole('link', { name: 'Signals' }).click();
  await supervisor.getByRole('link', { name: /^Sign \d+ decisions?$/ }).click();
  const decisions = supervisor.getByRole('listitem');
  await decisions.first().waitFor();
  const all = await decisions.count();
  // The others of the day are left for another time.
  for (let i = 0; i < all; i += 1) {
    const decision = decisions.nth(i);
    if ((await decision.getByRole('link').getAttribute('href')) !== `/signals/${id}`)
      await decision.getByRole('checkbox').uncheck();
  }
  await supervisor.getByLabel('Password').fill('not it');
  await supervisor.getByRole('button', { name: 'Sign 1 decision' }).click();
  await expect(supervisor.getByText('Name or password is wrong.')).toBeVisible();

  // Meanwhile something is added: what is signed is what is seen.
  await technician.goto(`${nuvek.url}/signals/${id}`);
  const addTo = async (comment: string) => {
    await technician.getByRole('button', { name: 'Add to it …' }).click();
    await technician.getByLabel('What there is to add').fill(comment);
    await technician.getByRole('button', { name: 'Add', exact: true }).click();
    await expect(technician.getByRole('article')).toContainText(comment);
  };
  await addTo('The cup was cold.');
  await expect(supervisor.getByLabel('Password')).toHaveValue('');
  // Until the list shows it, a signature is refused.
  await expect(async () => {
    await supervisor.getByLabel('Password').fill(PASSWORD);
    await supervisor.getByRole('button', { name: 'Sign 1 decision' }).click();
    await expect(supervisor.getByRole('heading', { level: 1 })).toContainText('Sanna Samplethorpe signed', {
      timeout: 3000,
    });
  }).toPass();
  const covered = supervisor.getByRole('article');
  await expect(covered).toHaveCount(1);
  await expect(covered).toContainText('As it was signed.');

  // And what is added afterwards is shown against it.
  await expect(technician.getByRole('link', { name: /^signed / })).toBeVisible();
  await addTo('A second cup is on order.');
  await expect(covered).toContainText('Changed since it was signed: what was answered.');
});
