import type { Browser, Page } from '@playwright/test';
import { query } from '../support/nuvek';
import { expect, openEntry, PASSWORD, signedIn, signIn, test } from '../support/test';

/** A tablet in hands with gloves. */
async function tablet(browser: Browser, url: string, login: string): Promise<Page> {
  const context = await browser.newContext({ hasTouch: true, viewport: { width: 1024, height: 768 }, isMobile: true });
  const page = await context.newPage();
  await page.goto(url);
  await signIn(page, login, PASSWORD);
  await page.getByRole('heading', { name: 'Rounds', level: 1 }).waitFor();
  return page;
}

const samples = async (database: string, name: string) => {
  const rows = await query<{ n: string }>(
    database,
    'select count(*)::text as n from sample s join characteristic c on c.id = s.characteristic_id where c.name = $1',
    [name],
  );
  return Number(rows[0]?.n);
};

test('a second tap on Save stores no sample that nobody counted', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  const before = await samples(nuvek.database, 'Pinholes');
  await openEntry(page, /Pinholes/);
  const save = page.getByRole('button', { name: 'Save sample' });
  await page.getByRole('button', { name: /Bubble/ }).click();
  await save.click();
  await expect(page.getByText(/Sample \d+ is saved/)).toBeVisible();
  await save.click();
  await expect(page.getByText('Nothing is counted yet.', { exact: false })).toBeVisible();
  expect(await samples(nuvek.database, 'Pinholes')).toBe(before + 1);
  // None found is said, by a tap or by a key.
  await page.keyboard.press('0');
  await expect(page.getByRole('button', { name: 'None found' })).toHaveAttribute('aria-pressed', 'true');
  await save.click();
  await expect.poll(() => samples(nuvek.database, 'Pinholes')).toBe(before + 2);
});

test('a second Enter answers no question: the field in doubt has the focus, keeping takes a key of its own', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  const before = await samples(nuvek.database, 'Viscosity');
  await page.getByRole('link', { name: /Viscosity/ }).click();
  await page.getByLabel('Reading').fill('900');
  await page.keyboard.press('Enter');
  await expect(page.getByText('is unusual', { exact: false })).toBeVisible();
  await expect(page.getByLabel('Reading')).toBeFocused();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await expect(page.getByText('is unusual', { exact: false })).toBeVisible();
  expect(await samples(nuvek.database, 'Viscosity')).toBe(before);
  await page.keyboard.press('Control+Enter');
  await expect.poll(() => samples(nuvek.database, 'Viscosity')).toBe(before + 1);
});

test('a signal that was left is asked where the work is, and a waiting entry that raises one says so', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  await page.getByRole('link', { name: /Viscosity/ }).click();
  await page.getByLabel('Reading').fill('900');
  await page.keyboard.press('Enter');
  await page.getByText('is unusual', { exact: false }).waitFor();
  await page.keyboard.press('Control+Enter');
  await page.getByRole('button', { name: 'Answer later' }).click();
  await expect(page.getByRole('status').filter({ hasText: /wait(s)? for an answer/ })).toBeVisible();

  await page.route('**/samples', (route) => route.abort());
  await page.getByLabel('Reading').fill('100');
  await page.keyboard.press('Enter');
  await expect(page.getByText('is kept on this device', { exact: false })).toBeVisible();
  await page.goto(`${nuvek.url}/charts`);
  await page.unroute('**/samples');
  // It needs a person's word first; then it goes through while they are elsewhere.
  await page.getByRole('link', { name: /on this device/ }).click();
  await page.getByRole('button', { name: 'Keep it, measured so' }).click();
  await expect(page.getByText(/has gone through, and asks for an answer/)).toBeVisible();
  await page.getByRole('link', { name: 'Answer it' }).click();
  await expect(page.getByRole('form', { name: 'Answer' })).toBeVisible();
});

test('on a tablet everything to save a sample stands in the first screen, and its result at the top', async ({
  browser,
  nuvek,
}) => {
  const page = await tablet(browser, nuvek.url, 'milo');
  await page.getByRole('link', { name: /Wall thickness.*C-20/ }).tap();
  const pad = page.getByRole('group', { name: 'Numeric pad' });
  await pad.waitFor();
  const inView = async (name: string) => {
    const box = await page.getByRole('button', { name, exact: true }).boundingBox();
    expect(box && box.y >= 0 && box.y + box.height <= 768, `${name} at ${JSON.stringify(box)}`).toBeTruthy();
    expect(box?.height).toBeGreaterThanOrEqual(48);
  };
  await inView('Save');
  for (const piece of [0, 1, 2, 3, 4]) {
    for (const digit of ['6', 'Decimal point', '3', String(piece)])
      await pad.getByRole('button', { name: digit, exact: true }).tap();
    await pad.getByRole('button', { name: piece < 4 ? 'Next' : 'Save', exact: true }).tap();
  }
  const result = page.getByText(/Sample \d+ is saved/);
  await result.waitFor();
  const box = await result.boundingBox();
  expect(box && box.y + box.height < 400).toBeTruthy();

  await page.goto(`${nuvek.url}/rounds`);
  await page.getByRole('link', { name: /Leak-test failures/ }).tap();
  await page.getByLabel('How many cartridges were inspected').tap();
  await pad.getByRole('button', { name: '5', exact: true }).tap();
  await pad.getByRole('button', { name: '0', exact: true }).tap();
  await expect(page.getByLabel('How many cartridges were inspected')).toHaveValue('50');
});

test('the last sample is corrected by touch from the entry: the card in sight, its first field ready', async ({
  browser,
  nuvek,
}) => {
  const page = await tablet(browser, nuvek.url, 'milo');
  await page.getByRole('link', { name: /Viscosity/ }).tap();
  await page.getByRole('link', { name: 'Correct the last sample' }).tap();
  const form = page.getByRole('form', { name: 'Change the sample' });
  await expect(form.getByLabel('Piece 1', { exact: false })).toBeFocused();
  await expect(form.getByLabel('Piece 1', { exact: false })).toBeInViewport();
  await page.keyboard.press('Escape');
  await expect(form).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Correct or withdraw' })).toBeFocused();
});

test('an answer: looked and nothing found needs no words, phrases are ready, what is half typed stays, Ctrl Enter saves', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await page
    .getByRole('navigation')
    .getByRole('link', { name: /Signals/ })
    .click();
  await page.getByRole('heading', { name: 'Signals', level: 1 }).waitFor();
  await page
    .getByRole('row', { name: /Wall thickness/ })
    .first()
    .getByRole('link')
    .click();
  const form = page.getByRole('form', { name: 'Answer' });
  await form.getByRole('button', { name: 'Measured again.' }).click();
  await form.getByLabel('What was done').press('End');
  await page.keyboard.type(' The value stands.');
  // Causes of the area: nobody looks for the kiln's burner in the slip.
  await expect(form.getByRole('radio', { name: 'Wrong piece measured' })).toBeVisible();
  await expect(form.getByRole('radio', { name: 'Kiln burner out of adjustment' })).toHaveCount(0);
  await page.reload();
  await expect(form.getByLabel('What was done')).toHaveValue('Measured again. The value stands.');
  await form.getByLabel('What was done').fill('');
  await form.getByRole('radio', { name: 'Looked, nothing found' }).check();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Waits for the supervisor.')).toBeVisible();
});

test('what was pasted and does not fit is said, and so is what can never be a number', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  await openEntry(page, /Wall thickness.*C-20/);
  await page.getByLabel('Piece 1').evaluate((field) => {
    const data = new DataTransfer();
    data.setData('text', '6.31\n6.28\n6.42\n6.35\n6.30\n6.33');
    field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect(page.getByText('More values were pasted than there are pieces. Left out: 6.33.')).toBeVisible();
  await page.getByLabel('Piece 2').fill('6..3');
  await expect(page.getByText('“6..3” is not a number', { exact: false })).toBeVisible();
  await expect(page.getByLabel('Piece 2')).toBeFocused();
});

test('after saving the way goes on to what is due next, by a key that works in a field', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  await page.getByRole('link', { name: /Viscosity/ }).click();
  const next = page.getByRole('button', { name: /^Next due: / });
  await expect(next).toBeVisible();
  const name = ((await next.textContent()) ?? '').replace(/^Next due: /, '').split(',')[0] ?? '';
  await page.getByLabel('Reading').focus();
  await page.keyboard.press('Alt+n');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(name.startsWith('Turbidity') ? 'Control run' : name);
});

test('an event that was tapped is said and can be taken back; Esc closes its dialog', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  const count = async () =>
    Number((await query<{ n: string }>(nuvek.database, 'select count(*)::text as n from event'))[0]?.n);
  const before = await count();
  const open = page.getByRole('button', { name: 'Tell what happened at Casting line 1' });
  await open.click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(open).toBeFocused();
  await open.click();
  await page.getByRole('button', { name: 'Tool change' }).click();
  await expect(page.getByText(/Tool change noted \d\d:\d\d/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/Tool change noted/)).toHaveCount(0);
  await open.click();
  await page.getByRole('button', { name: 'Maintenance' }).click();
  await expect.poll(count, { timeout: 20_000 }).toBe(before + 1);
});

test('a sample that is begun says of how many pieces it is, between limits for as many', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  await openEntry(page, /Wall thickness.*C-20/);
  await page.getByLabel('Piece 1').fill('6.31');
  await expect(page.getByText('The point in pencil is of 1 of 5 pieces, between limits for 1.')).toBeVisible();
  await page.getByLabel('Piece 2').fill('6.30');
  await expect(page.getByText('The point in pencil is of 2 of 5 pieces, between limits for 2.')).toBeVisible();
});

test('a set-up survives a reload, asks about a kind that was not added, and says that it is done', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.getByRole('navigation').getByRole('link', { name: 'Plan' }).click();
  await page.getByRole('link', { name: 'Set up a characteristic' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Glaze flaws');
  await page.getByRole('combobox', { name: 'What do you record?' }).click();
  await page.getByRole('option').nth(1).click();
  await page.getByRole('combobox', { name: 'Always the same number?' }).click();
  await page.getByRole('option', { name: 'No, it is asked each time' }).click();
  await expect(page.getByText('It is asked each time; this only tells which chart fits.')).toBeVisible();
  await page.getByLabel('What is inspected').fill('cartridges');
  await page.getByLabel('Another kind').fill('Crawling');
  await page.reload();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Glaze flaws');
  await page.getByRole('button', { name: 'Set it up' }).click();
  await expect(page.getByText('“Crawling” is typed and not added.', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Add the kind' }).click();
  await page.getByRole('button', { name: 'Set it up' }).click();
  await expect(
    page.getByText('Glaze flaws is set up; its first sample starts the chart.', { exact: false }),
  ).toBeVisible();
  await page.getByRole('link', { name: 'Enter a sample' }).click();
  await expect(page.getByRole('heading', { name: 'Glaze flaws' })).toBeVisible();
});
