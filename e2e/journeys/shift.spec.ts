import { barriers } from '../support/barriers';
import { expect, openEntry, signedIn, test } from '../support/test';

const reviewForm = { name: 'Review' };

test('a sample is typed, drawn in pencil, saved, signalled, answered, sent back, answered again and accepted', async ({
  browser,
  nuvek,
}) => {
  const supervisor = await signedIn(browser, nuvek.url, 'sanna');
  await supervisor.goto(`${nuvek.url}/charts?find=Burst`);
  await supervisor.getByRole('link', { name: /Burst pressure/ }).click();
  await expect(supervisor.getByText('18 samples in all')).toBeVisible();

  // The technician uses no mouse from here on.
  const technician = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(technician, /Burst pressure/);
  const pencil = technician.getByTestId('pencil-mean');
  await expect(technician.getByLabel('Piece 1')).toBeFocused();
  await expect(pencil).toHaveCount(0);
  await technician.keyboard.type('25,0');
  await expect(pencil).toHaveAttribute('data-value', '25');
  await technician.keyboard.press('Enter');
  await expect(technician.getByLabel('Piece 2')).toBeFocused();
  await technician.keyboard.type('25.6');
  await expect(pencil).toHaveAttribute('data-value', '25.3');
  await expect(technician.getByText(/As typed, this sample breaks a rule/)).toBeVisible();
  await technician.keyboard.press('Enter');

  // It asks there and then; the focus is where the answer begins.
  const asks = technician.getByRole('region', { name: 'Episode' });
  await expect(asks.getByText(/lies above its upper control limit/)).toBeVisible();
  await expect(pencil).toHaveCount(0);
  // Causes of this area; nobody looks for clay where end caps are glued.
  await expect(asks.getByRole('radio').first()).toBeFocused();
  await expect(asks.getByRole('radio', { name: 'New clay lot' })).toHaveCount(0);

  // Meanwhile it has arrived at the supervisor's screen, which nobody has touched.
  await expect(supervisor.getByText('19 samples in all')).toBeVisible();
  await supervisor
    .getByRole('link', { name: /Open episode: beyond the limit, high/ })
    .first()
    .press('Enter');
  await expect(supervisor.getByRole('heading', { level: 1 })).toContainText('lies above its upper control limit');
  const address = supervisor.url();

  await technician.keyboard.press('Space');
  await asks.getByRole('radio').first().press('ArrowDown');
  await expect(asks.getByRole('radio').nth(1)).toBeChecked();
  await technician.keyboard.press('Tab');
  await technician.keyboard.type('Changed the press tool.');
  await asks.getByRole('button', { name: 'Save answer' }).press('Enter');
  await expect(technician.getByLabel('Piece 1')).toBeFocused();

  await supervisor.getByRole('form', reviewForm).getByRole('button', { name: 'Send back' }).click();
  await expect(supervisor.getByText('This decision needs words.')).toBeVisible();
  await expect(supervisor.getByRole('textbox', { name: 'Question' })).toBeFocused();
  await supervisor.keyboard.type('Which press?');
  await supervisor.keyboard.press('Control+Enter');
  await expect(supervisor.getByRole('form', reviewForm)).toHaveCount(0);

  await technician.goto(address);
  await expect(technician.getByText('Which press?')).toBeVisible();
  await technician.getByRole('radio', { name: 'Another cause' }).check();
  await technician.getByLabel('The cause, in words').fill('Tool of press 3 worn');
  await technician.getByLabel('What was done').fill('Press 3 has a new tool.');
  await technician.getByRole('button', { name: 'Save answer' }).click();
  await expect(technician.getByText('Waits for the supervisor.')).toBeVisible();

  await expect(supervisor.getByText('Tool of press 3 worn')).toBeVisible();
  await supervisor.getByRole('form', reviewForm).getByRole('button', { name: 'Accept' }).click();
  await expect(technician.getByText('Reviewed', { exact: true })).toBeVisible();
  await expect(technician.getByText('Accepted')).toBeVisible();

  await supervisor.getByRole('link', { name: 'Trail' }).click();
  const trail = supervisor.getByRole('grid', { name: 'Trail' });
  await expect(trail.getByText('Episode reviewed').first()).toBeVisible();
  await expect(trail.getByText('Sample saved').first()).toBeVisible();
});

test('a signal can be left for later and stays on the station and in Signals', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  const stop = page.getByRole('link', { name: /Viscosity/ });
  await expect(stop).not.toContainText('open episode');
  await page.keyboard.press('?');
  await expect(
    page.getByRole('dialog', { name: 'Keys' }).getByText('opens the most urgent characteristic'),
  ).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('n');
  await page.getByRole('button', { name: 'Save sample' }).waitFor();
  await page.goto(`${nuvek.url}/rounds`);
  await stop.click();
  await page.getByLabel('Reading').fill('401');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Episode' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Reading')).toBeFocused();
  await page.goto(`${nuvek.url}/rounds`);
  await expect(stop).toContainText('open episode');
  await page.goto(`${nuvek.url}/signals`);
  await expect(page.getByRole('row', { name: /Viscosity, .*Slip preparation/ }).first()).toBeVisible();
});

test('improbable readings ask, impossible ones are refused where they stand', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(page, /Burst pressure/);
  await page.keyboard.type('99');
  await expect(page.getByText('99 cannot be measured here. Values between 0 and 60 can.')).toBeVisible();
  await page.keyboard.press('Enter');
  await page.keyboard.type('20.55');
  await page.keyboard.press('Enter');
  await expect(page.getByText('99 cannot be measured here. Values between 0 and 60 can.')).toBeVisible();
  await expect(page.getByText('20.55 has too many decimals. This unit takes at most 1.')).toBeVisible();
  await expect(page.getByLabel('Piece 1')).toHaveValue('99');
  await page.getByLabel('Piece 1').fill('30');
  await page.getByLabel('Piece 2').fill('20.5');
  await page.getByLabel('Piece 2').press('Enter');
  await expect(page.getByText(/30.0 bar is unusual; values between 14 and 26 are usual here/)).toBeVisible();
  await page.getByRole('button', { name: 'Keep it, measured so' }).press('Enter');
  await expect(page.getByText(/Sample 19 is saved/)).toBeVisible();
});

test('a slip of typing is asked about before it becomes a signal, mended by one key, and remembered', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await page.goto(`${nuvek.url}/charts?find=Bead`);
  await page.getByRole('link', { name: /Bead weight/ }).click();
  const chart = page.url();
  await page.getByRole('link', { name: 'Enter a sample' }).click();
  await page.getByLabel('Piece 1').fill('4.79');
  await page.getByLabel('Piece 2').fill('8.41');
  await page.getByLabel('Piece 3').fill('4.82');
  await page.getByLabel('Piece 3').press('Enter');
  await expect(
    page.getByText(/^Piece 2: 8.41 g is unusual; .* by what was recorded so far. Is it right\?$/),
  ).toBeVisible();
  await expect(page.getByLabel('Piece 2')).toBeFocused();
  await expect(page.getByRole('button', { name: /^4.81 g was meant/ })).toBeVisible();
  expect(await barriers(page)).toEqual([]);
  await page.keyboard.press('Alt+Enter');
  await expect(page.getByText(/Sample 29 is saved. No rule is broken./)).toBeVisible();
  await page.goto(chart);
  await expect(page.getByText('29 samples in all')).toBeVisible();
  await page.getByRole('group', { name: /Control chart/ }).focus();
  await page.keyboard.press('End');
  const card = page.getByRole('region', { name: 'Sample 29' });
  await expect(card.getByText('Piece 2 was typed as 8.41 first, and changed when that was asked about.')).toBeVisible();
});

test('any point can be given a note, found by keyboard', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  const other = await signedIn(browser, nuvek.url, 'milo');
  for (const p of [page, other]) {
    await p.goto(`${nuvek.url}/charts?find=Viscosity`);
    await p.getByRole('link', { name: /Viscosity/ }).click();
    const chart = p.getByRole('group', { name: /Control chart/ });
    await chart.focus();
    const total = Number(/(\d+) samples in all/.exec(await p.getByRole('main').innerText())?.[1]);
    // Faster than a busy machine can draw, and still every key counts.
    await chart.evaluate(async (node) => {
      for (const key of ['End', 'ArrowLeft', 'ArrowLeft', 'ArrowRight']) {
        node.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
        await Promise.resolve();
      }
    });
    await expect(p.getByRole('region', { name: `Sample ${total - 1}`, exact: true })).toBeVisible();
  }
  await page.getByLabel('Note on this sample').fill('Measured with the new cup.');
  await page.getByRole('button', { name: 'Write note' }).click();
  await expect(page.getByText('Measured with the new cup.', { exact: true }).last()).toBeVisible();
  await expect(other.getByRole('region', { name: /^Sample/ }).getByText('Measured with the new cup.')).toBeVisible();
  // The address says what is on the screen.
  await page.reload();
  await expect(page.getByRole('region', { name: /^Sample/ }).getByText('Measured with the new cup.')).toBeVisible();
});
