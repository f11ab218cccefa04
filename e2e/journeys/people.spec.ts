import { barriers } from '../support/barriers';
import { expect, signedIn, signIn, test } from '../support/test';

test('a person is added, chooses a password, is bound to a station, and is closed with their history kept', async ({
  browser,
  nuvek,
}) => {
  const ada = await signedIn(browser, nuvek.url, 'ada');
  await ada.getByRole('navigation').getByRole('link', { name: 'People' }).click();
  await ada.getByRole('button', { name: 'Add a person' }).click();
  const form = ada.getByRole('region', { name: 'Add a person' });
  await form.getByLabel('Name', { exact: true }).fill('Nora Newly-Made');
  await form.getByLabel('Signs in as').fill('Nora');
  await form.getByLabel('Stations beside those of the areas').click();
  await ada.getByRole('option', { name: 'Leak test' }).click();
  await ada.keyboard.press('Escape');
  await form.getByLabel('Enters samples at these alone').check();
  expect(await barriers(ada)).toEqual([]);
  await form.getByRole('button', { name: 'Keep' }).click();
  const given = await ada.getByRole('textbox', { name: 'The password of Nora Newly-Made' }).inputValue();
  await ada.getByRole('button', { name: 'It is handed over' }).click();
  await expect(ada.getByText('nora · Leak test · enters there alone · has not chosen a password yet')).toBeVisible();

  const nora = await (await browser.newContext()).newPage();
  await nora.goto(nuvek.url);
  await signIn(nora, 'nora', given);
  await expect(nora.getByRole('heading', { name: 'Choose a password of your own' })).toBeVisible();
  const choose = async (password: string, again = password) => {
    await nora.getByLabel('Your password until now').fill(given);
    await nora.getByLabel('New password', { exact: true }).fill(password);
    await nora.getByLabel('New password once more').fill(again);
    await nora.getByRole('button', { name: 'Choose it' }).click();
  };
  await choose('seven brown kettles', 'seven brown kettle');
  await expect(nora.getByText('The two differ.')).toBeVisible();
  await choose('password123');
  await expect(nora.getByText(/is not what many people take/)).toBeVisible();
  await choose('seven brown kettles');

  // The round begins with what is theirs; the rest is a choice away.
  await expect(nora.getByRole('heading', { name: 'Leak test' })).toBeVisible();
  await expect(nora.getByRole('heading', { name: /Casting line 1/ })).toHaveCount(0);
  await nora.getByRole('button', { name: 'All stations' }).click();
  await nora
    .getByRole('link', { name: /Wall thickness.*Casting line 1|Wall thickness/ })
    .first()
    .click();
  await expect(nora.getByText(/You enter samples at your own stations alone/)).toBeVisible();
  await expect(nora.getByRole('button', { name: 'Save sample' })).toHaveCount(0);

  await ada.reload();
  await ada.getByRole('button', { name: 'Close the account of Nora Newly-Made' }).click();
  await ada.getByRole('button', { name: 'Close the account', exact: true }).first().click();
  await expect(ada.getByText(/nora · Leak test · enters there alone · Closed/)).toBeVisible();
  await nora.goto(`${nuvek.url}/charts`);
  await expect(nora.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await ada.getByRole('navigation').getByRole('link', { name: 'Trail' }).click();
  for (const deed of ['Account closed', 'Chose a password', 'Person added']) {
    await expect(ada.getByText(deed).first()).toBeVisible();
  }
});

test('a reader sees charts, signals and trail of the areas given, and nothing to change', async ({
  browser,
  nuvek,
}) => {
  const rita = await (await browser.newContext()).newPage();
  await rita.goto(nuvek.url);
  await signIn(rita, 'rita');
  await expect(rita.getByRole('heading', { name: 'Charts', level: 1 })).toBeVisible();
  const places = rita.getByRole('navigation').getByRole('link');
  await expect(places).toHaveText(['Charts', 'Signals', 'Studies', 'Reports', 'Trail']);
  await expect(rita.getByRole('link', { name: /Peak temperature/ }).first()).toBeVisible();
  const links = await rita.getByRole('main').getByRole('link').allTextContents();
  expect(links.join(' ')).toContain('Peak temperature');
  expect(links.join(' ')).not.toContain('Wall thickness');
  await rita
    .getByRole('link', { name: /Peak temperature/ })
    .first()
    .click();
  await expect(rita.getByRole('group', { name: /Control chart of Peak temperature/ })).toBeVisible();
  await expect(rita.getByRole('link', { name: 'Enter a sample' })).toHaveCount(0);
  await expect(rita.getByText('Your role does not allow this.')).toHaveCount(0);
  expect(await barriers(rita)).toEqual([]);
  await rita.getByRole('navigation').getByRole('link', { name: 'Trail' }).click();
  await expect(rita.getByText(/, Kiln/).first()).toBeVisible();
  await expect(rita.getByText(/Casting line/)).toHaveCount(0);
  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  const episodes: { id: string; station: string }[] = await (
    await tilda.request.get(`${nuvek.url}/api/episodes`)
  ).json();
  const elsewhere = episodes.find(({ station }) => station !== 'Kiln');
  await rita.goto(`${nuvek.url}/signals/${elsewhere?.id}`);
  await expect(rita.getByText('There is no such episode any more.')).toBeVisible();
});
