import { randomUUID } from 'node:crypto';
import type { Page } from '@playwright/test';
import { expect, openEntry, signedIn, test } from '../support/test';

const FOLDER = process.env.SHOTS_FOLDER ?? '../docs/screenshots';

/** One picture of each main view, from the demo site. */
/** A sheet as somebody keeps it: a title, decimal commas, a unit typed into a cell. */
function wallLog(): string {
  const reading = (i: number, piece: number) =>
    (5 + ((i * 37 + piece * 61) % 23) / 100 - 0.11).toFixed(2).replace('.', ',');
  const row = (i: number) => {
    const pieces = [1, 2, 3, 4, 5].map((piece) => (i === 4 && piece === 2 ? '5,1 mm' : reading(i, piece)));
    const day = String(4 + Math.floor(i / 12)).padStart(2, '0');
    const hour = String(6 + (i % 12)).padStart(2, '0');
    return `${day}.05.2026 ${hour}:00;M-${17 + Math.floor(i / 10)};${pieces.join(';')}`;
  };
  const rows = Array.from({ length: 60 }, (_, i) => row(i));
  return ['Casting line 1, week 19', '', 'taken;Mould;x1;x2;x3;x4;x5', ...rows].join('\r\n');
}

test('main views', async ({ browser, nuvek }) => {
  test.setTimeout(120_000);
  const shoot = async (page: Page, name: string) => {
    await page.waitForLoadState('networkidle', { timeout: 5000 }).catch(() => undefined);
    await page.waitForTimeout(300);
    await page.screenshot({ path: `${FOLDER}/${name}.png` });
  };
  const dark = async (page: Page) => page.getByRole('button', { name: 'Switch to dark' }).click();

  const page = await signedIn(browser, nuvek.url, 'tilda');
  await shoot(page, 'rounds');
  await openEntry(page, /Wall thickness.*C-20/);
  for (const reading of ['6.31', '6.28', '6.42', '6.35', '6.3']) {
    await page.keyboard.type(reading);
    if (reading !== '6.3') await page.keyboard.press('Enter');
  }
  await page.getByTestId('pencil-mean').waitFor();
  await shoot(page, 'entry');

  await page.goto(`${nuvek.url}/rounds`);
  await openEntry(page, /Wall thickness.*C-40/);
  for (const reading of ['7.71', '7.68', '7.74', '7.66', '7.70']) {
    await page.keyboard.type(reading);
    await page.keyboard.press('Enter');
  }
  await page.getByRole('region', { name: 'Episode' }).first().waitFor();
  await shoot(page, 'entry-signal');

  const engineer = await signedIn(browser, nuvek.url, 'egon');
  await engineer.goto(`${nuvek.url}/charts`);
  await engineer.getByRole('link', { name: /Bead weight/ }).click();
  await engineer.getByRole('link', { name: 'Limits', exact: true }).click();
  await engineer.getByRole('heading', { name: 'Points that break rules' }).waitFor();
  const wrongPiece = engineer.getByText('answered: Wrong piece measured', { exact: false });
  await expect(async () => {
    if (await wrongPiece.isHidden()) await engineer.keyboard.press('n');
    await expect(wrongPiece).toBeVisible({ timeout: 1000 });
  }).toPass();
  await engineer.getByRole('button', { name: 'Wrong piece measured' }).click();
  await engineer.getByText('Set aside by Egon Examplar').waitFor();
  await shoot(engineer, 'limits');
  await engineer.goto(`${nuvek.url}/charts`);
  await engineer.getByRole('img', { name: /^Cap position/ }).waitFor();
  await shoot(engineer, 'charts');

  await engineer.goto(`${nuvek.url}/data`);
  await engineer.getByLabel('Choose a file').setInputFiles({
    name: 'wall-log.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(wallLog()),
  });
  await engineer.getByRole('img', { name: 'The samples in order' }).waitFor();
  await shoot(engineer, 'data');

  await page.goto(`${nuvek.url}/lab`);
  for (const [level, result] of [
    ['Silver assay, low', '42.3'],
    ['Silver assay, high', '117.2'],
    ['Turbidity, low', '0.51'],
    ['Turbidity, middle', '2.19'],
    ['Turbidity, high', '8.62'],
  ] as const) {
    await page.getByRole('textbox', { name: level, exact: true }).fill(result);
  }
  await page.getByText('two in a row beyond 2 sd', { exact: false }).waitFor();
  await page.getByTestId('pencil-individual').waitFor();
  await shoot(page, 'lab');
  for (const [level, result] of [
    ['Turbidity, middle', '1.99'],
    ['Turbidity, high', '8.1'],
  ] as const) {
    await page.getByRole('textbox', { name: level, exact: true }).fill(result);
  }
  await page.getByRole('list', { name: 'Latest runs' }).getByRole('link').first().click();
  await page.getByText('The run may not be released.', { exact: false }).waitFor();
  await shoot(page, 'lab-run');

  const supervisor = await signedIn(browser, nuvek.url, 'sanna');
  await supervisor
    .getByRole('navigation')
    .getByRole('link', { name: /Signals/ })
    .click();
  await supervisor.getByRole('grid', { name: 'Signals' }).waitFor();
  await shoot(supervisor, 'signals');
  await supervisor.goto(`${nuvek.url}/signals?state=answered`);
  await supervisor.getByRole('grid').getByRole('link').first().click();
  await supervisor.getByRole('form', { name: 'Review' }).waitFor();
  await shoot(supervisor, 'review');

  await supervisor.getByRole('navigation').getByRole('link', { name: 'Charts' }).click();
  await supervisor.getByRole('link', { name: /Viscosity/ }).click();
  await supervisor.getByRole('group', { name: /Control chart/ }).focus();
  await supervisor.keyboard.press('End');
  await expect(supervisor.getByRole('region', { name: /^Sample/ })).toBeVisible();
  await shoot(supervisor, 'chart');

  await supervisor.goto(`${nuvek.url}/handover`);
  await supervisor.getByRole('textbox').fill('The die of casting line 2 is at its end; the new one lies ready.');
  await supervisor.getByRole('button', { name: 'Leave them' }).click();
  await supervisor.getByText('The die of casting line 2').first().waitFor();
  await shoot(supervisor, 'handover');
  const day = (ago: number) => new Date(Date.now() - ago * 86_400_000).toISOString().slice(0, 10);
  await supervisor.goto(`${nuvek.url}/reports?report=episodes&from=${day(14)}&until=${day(-1)}`);
  await supervisor.getByRole('table').waitFor();
  await shoot(supervisor, 'report');
  await dark(supervisor);
  await supervisor.goto(`${nuvek.url}/trail`);
  await supervisor.getByRole('grid').waitFor();
  await shoot(supervisor, 'trail-dark');

  await engineer.goto(`${nuvek.url}/studies`);
  await engineer.getByRole('link', { name: 'Flow rate, week by week' }).click();
  await engineer.getByRole('region', { name: 'To be read with' }).waitFor();
  await shoot(engineer, 'study');

  await engineer.goto(`${nuvek.url}/plan?find=pinholes`);
  await engineer.getByRole('link', { name: 'Pinholes', exact: true }).click();
  await engineer.getByText(/ fits\./).waitFor();
  await shoot(engineer, 'plan-characteristic');

  // A machine that is right most of the time.
  const plan = (await (await engineer.request.get(`${nuvek.url}/api/plan`)).json()) as {
    stations: { id: string; name: string }[];
    characteristics: { id: string; name: string }[];
  };
  const hung = await engineer.request.post(`${nuvek.url}/api/plan/devices`, {
    headers: { origin: nuvek.url },
    data: {
      name: 'Hall, north wall',
      stations: plan.stations.map(({ id }) => id),
      link: { kind: 'display', charts: 4, seconds: 300, dark: true },
    },
  });
  const { token: shown } = (await hung.json()) as { token: string };
  const monitor = await (await browser.newContext({ viewport: { width: 1920, height: 1080 } })).newPage();
  await monitor.goto(`${nuvek.url}/wall#${shown}`);
  await monitor.getByRole('heading', { name: 'Hall, north wall' }).waitFor();
  await monitor.keyboard.press('ArrowRight');
  await monitor.getByRole('article').first().waitFor();
  await shoot(monitor, 'wall');
  const station = plan.stations.find((s) => s.name === 'End-cap gluing')?.id;
  const cap = plan.characteristics.find((c) => c.name === 'Cap position')?.id;
  const link = { kind: 'ingest' };
  const made = (await (
    await engineer.request.post(`${nuvek.url}/api/plan/devices`, {
      data: { name: 'Coordinate machine M-4', stations: [station], link },
    })
  ).json()) as { token: string };
  await engineer.request.post(`${nuvek.url}/api/plan/devices`, {
    data: {
      name: 'Bench gauge G-1',
      stations: [station],
      link: { kind: 'gauge', address: { opens: 'server', at: '127.0.0.1:9' } },
    },
  });
  const readings = ['0.121', '0.118', '0.004 in', '0.1234', '0.125', '12', '0.122', '0.119', '12'];
  const samples = readings.map((reading) => ({ entry: randomUUID(), characteristic: cap, readings: [reading] }));
  await engineer.request.post(`${nuvek.url}/api/ingest`, {
    headers: { authorization: `Bearer ${made.token}` },
    data: { samples },
  });
  await engineer.goto(`${nuvek.url}/plan/devices`);
  await engineer.getByRole('row', { name: /another unit/ }).waitFor();
  await shoot(engineer, 'devices');

  // The last picture: it stops the server.
  await engineer.goto(`${nuvek.url}/rounds`);
  await openEntry(engineer, /Burst pressure/);
  await nuvek.stop();
  for (const readings of [
    ['20.1', '20.3'],
    ['19.9', '20.4'],
  ]) {
    await engineer.getByLabel('Piece 1').fill(readings[0] ?? '');
    await engineer.getByLabel('Piece 2').fill(readings[1] ?? '');
    await engineer.keyboard.press('Enter');
    await expect(engineer.getByLabel('Piece 1')).toHaveValue('');
  }
  await engineer.getByRole('link', { name: '2 wait on this device' }).click();
  await shoot(engineer, 'waiting');
});
