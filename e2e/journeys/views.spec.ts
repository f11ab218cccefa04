import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { expect, openEntry, signedIn, test } from '../support/test';

const expectNoBarriers = async (page: Page, theme: 'light' | 'dark', view: string) =>
  expect.soft(await barriers(page, theme), view).toEqual([]);

for (const theme of ['light', 'dark'] as const) {
  test(`no view has barriers that axe can find, ${theme}`, async ({ browser, nuvek }) => {
    // Axe looks at some forty views.
    test.setTimeout(480_000);
    const page = await signedIn(browser, nuvek.url, 'sanna');
    if (theme === 'dark') await page.getByRole('button', { name: 'Switch to dark' }).click();
    await expectNoBarriers(page, theme, 'rounds');
    await openEntry(page, /Burst pressure/);
    await page.keyboard.type('30');
    await page.keyboard.press('Enter');
    await page.keyboard.type('20');
    await page.getByTestId('pencil-mean').waitFor();
    await expectNoBarriers(page, theme, 'entry');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Keep it, measured so' }).waitFor();
    await expectNoBarriers(page, theme, 'entry asked');
    await page.getByLabel('Piece 1').fill('99');
    await page.getByRole('alert').first().waitFor();
    await expectNoBarriers(page, theme, 'entry refused');
    await page.goto(`${nuvek.url}/rounds`);
    await openEntry(page, /Pinholes/);
    await page.keyboard.type('b');
    await page.getByTestId('pencil-count').waitFor();
    await expectNoBarriers(page, theme, 'entry of counts');
    await page.goto(`${nuvek.url}/charts`);
    await page.getByRole('link', { name: /Viscosity/ }).waitFor();
    await expectNoBarriers(page, theme, 'charts');
    await page.getByRole('link', { name: /Viscosity/ }).click();
    await page.getByRole('group', { name: /Control chart/ }).press('End');
    await expectNoBarriers(page, theme, 'chart');
    for (const state of ['open', 'answered']) {
      await page.goto(`${nuvek.url}/signals?state=${state}`);
      await page.getByRole('grid').getByRole('link').first().waitFor();
      await expectNoBarriers(page, theme, `episodes ${state}`);
      await page.getByRole('grid').getByRole('link').first().click();
      await page.getByRole('group', { name: /Control chart/ }).waitFor();
      await expectNoBarriers(page, theme, `episode ${state}`);
    }
    await page.goto(`${nuvek.url}/trail`);
    await page.getByRole('grid').waitFor();
    await expectNoBarriers(page, theme, 'trail');
    await page.goto(`${nuvek.url}/studies`);
    await page.getByRole('grid', { name: 'Studies' }).waitFor();
    await expectNoBarriers(page, theme, 'studies');
    await page.goto(`${nuvek.url}/cause-trees`);
    await page.getByRole('link', { name: 'Rim cracks after firing' }).click();
    await page.getByRole('region', { name: 'Ideas' }).waitFor();
    await expectNoBarriers(page, theme, 'a cause tree');
    await page.goto(`${nuvek.url}/studies`);
    await page.getByRole('link', { name: /^Flow rate/ }).click();
    await page.getByRole('region', { name: 'Told apart' }).waitFor();
    await expectNoBarriers(page, theme, 'a study');
    await page.getByRole('link', { name: 'Ask otherwise' }).click();
    await page.getByRole('form', { name: 'Keep this study' }).waitFor();
    await page.getByRole('region', { name: 'Told apart' }).waitFor();
    await expectNoBarriers(page, theme, 'the question of a study');
    await page.goto(`${nuvek.url}/lab`);
    await page.getByRole('textbox', { name: 'Turbidity, low' }).fill('0.62');
    await page.getByText('▲ +4.00 sd').waitFor();
    await page.getByTestId('pencil-individual').waitFor();
    await expectNoBarriers(page, theme, 'a run as it is typed');
    await page.getByRole('list', { name: 'Latest runs' }).getByRole('link').first().click();
    await page.getByRole('button', { name: 'Override the verdict …' }).click();
    await page.getByRole('list', { name: 'Results' }).waitFor();
    await expectNoBarriers(page, theme, 'a run');
    await page.goto(`${nuvek.url}/lab`);
    await page.getByRole('link', { name: 'Figures by level and reagent lot' }).click();
    await page.getByRole('table').waitFor();
    await expectNoBarriers(page, theme, 'figures of the laboratory');
    await page.goto(`${nuvek.url}/lab/peers`);
    await page
      .getByRole('img', { name: /: SDI / })
      .first()
      .waitFor();
    await expectNoBarriers(page, theme, 'beside the peers');
    await page.getByRole('link', { name: 'What was given' }).click();
    await page
      .getByRole('button', { name: /^Take back / })
      .first()
      .click();
    await expectNoBarriers(page, theme, 'what was given to peers');
    await page.goto(`${nuvek.url}/me`);
    await expectNoBarriers(page, theme, 'one’s own');
    await page.goto(`${nuvek.url}/rounds?order=urgency`);
    await page.locator('a[data-state]').first().waitFor();
    await expectNoBarriers(page, theme, 'rounds by urgency');
    await page.route('**/gaps', (route) => route.abort());
    await openEntry(page, /Burst pressure/);
    await page.getByRole('button', { name: 'Skip this sample …' }).click();
    await page.keyboard.type('No cartridge left');
    await page.keyboard.press('Enter');
    await page
      .getByRole('link', { name: /waits on this device/ })
      .first()
      .click();
    await page.getByRole('region', { name: /No cartridge left/ }).waitFor();
    await expectNoBarriers(page, theme, 'waiting');
  });

  test(`the plan has no barriers that axe can find, ${theme}`, async ({ browser, nuvek }) => {
    const page = await signedIn(browser, nuvek.url, 'egon');
    if (theme === 'dark') await page.getByRole('button', { name: 'Switch to dark' }).click();
    await page.goto(`${nuvek.url}/plan?find=wall`);
    await page.getByRole('button', { name: 'Choose all found' }).click();
    await page.getByRole('button', { name: /Change . at once/ }).click();
    await page.getByRole('table').getByText('stays as it is').first().waitFor();
    await expectNoBarriers(page, theme, 'plan');
    for (const name of ['Viscosity', 'Pinholes']) {
      await page.goto(`${nuvek.url}/plan?find=${name}`);
      await page.getByRole('link', { name, exact: true }).click();
      await page.getByText(/ fits\./).waitFor();
      await page.getByRole('combobox', { name: 'Rules' }).click();
      await page.getByRole('option', { name: 'An own list' }).click();
      // The list fades away; half faded its letters have no contrast.
      await expect(page.locator('[role=option]')).toHaveCount(0);
      await expectNoBarriers(page, theme, `set-up of ${name}`);
    }
    await page.goto(`${nuvek.url}/plan/analytes/new`);
    await page.getByRole('group', { name: 'Level 2' }).waitFor();
    await expectNoBarriers(page, theme, 'set-up of an analyte');
    for (const kind of ['Laboratory analyser (ASTM)', 'Sensor by MQTT']) {
      await page.goto(`${nuvek.url}/plan/devices/new`);
      await page.getByRole('combobox', { name: 'Stations it sends for' }).click();
      await page.getByRole('option', { name: /Test bench/ }).click();
      await page.keyboard.press('Escape');
      await page.getByRole('combobox', { name: 'What it does' }).click();
      await page.getByRole('option', { name: kind }).click();
      await expect(page.locator('[role=option]')).toHaveCount(0);
      await expectNoBarriers(page, theme, `set-up of a device: ${kind}`);
    }
    const { stations } = (await (await page.request.get(`${nuvek.url}/api/plan`)).json()) as {
      stations: { id: string }[];
    };
    const device = { name: 'Machine M-1', stations: [stations[0]?.id], link: { kind: 'ingest' } };
    const { token } = (await (await page.request.post(`${nuvek.url}/api/plan/devices`, { data: device })).json()) as {
      token: string;
    };
    await page.request.post(`${nuvek.url}/api/ingest`, {
      headers: { authorization: `Bearer ${token}` },
      data: { samples: [] },
    });
    await page.goto(`${nuvek.url}/plan/devices`);
    await page.getByRole('button', { name: 'Revoke Machine M-1 …' }).click();
    await page.getByRole('table').waitFor();
    await expectNoBarriers(page, theme, 'devices');
  });
}

test('on a tablet in upright format a sample is entered by touch', async ({ browser, nuvek }) => {
  const context = await browser.newContext({ viewport: { width: 800, height: 1180 }, hasTouch: true });
  const page = await context.newPage();
  await page.goto(nuvek.url);
  await page.getByLabel('Name').fill('tilda');
  await page.getByLabel('Password').fill('tarn-valley');
  await page.getByRole('button', { name: 'Sign in' }).tap();
  await page.getByRole('link', { name: /Burst pressure/ }).tap();
  await expect(page.getByLabel('Piece 1')).toHaveAttribute('inputmode', 'none');
  for (const [piece, reading] of [
    ['Piece 1', '20.2'],
    ['Piece 2', '20,4'],
  ] as const) {
    await page.getByLabel(piece).tap();
    await page.keyboard.type(reading);
  }
  const save = page.getByRole('group', { name: 'Numeric pad' }).getByRole('button', { name: 'Save' });
  for (const target of [page.getByLabel('Piece 1').locator('..').locator('..'), save]) {
    expect((await target.boundingBox())?.height).toBeGreaterThanOrEqual(48);
  }
  const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
  expect(overflow).toBeLessThanOrEqual(0);
  await save.tap();
  await expect(page.getByText(/Sample 19 is saved/)).toBeVisible();
});

test('a policy without inline script is kept by every view, and nothing comes from elsewhere', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'sanna');
  const told: string[] = [];
  page.on('console', (message) => {
    if (message.type() === 'error') told.push(message.text());
  });
  page.on('request', (request) => {
    if (!request.url().startsWith(nuvek.url) && !request.url().startsWith('data:')) told.push(request.url());
  });
  for (const path of ['/rounds', '/charts', '/signals', '/trail']) {
    await page.goto(`${nuvek.url}${path}`);
    await page.getByRole('heading', { level: 1 }).waitFor();
  }
  await page.getByRole('grid').waitFor();
  expect(told).toEqual([]);
});
