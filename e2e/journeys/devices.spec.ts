import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { createServer, type Socket } from 'node:net';
import type { Page } from '@playwright/test';
import { BINARY, freePort, query } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

/** Chooses from a list of MUI's. */
async function choose(page: Page, list: string, option: string | RegExp) {
  await page.getByRole('combobox', { name: list }).click();
  await page.getByRole('option', { name: option }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('listbox')).toHaveCount(0);
}

async function setUp(page: Page, url: string, name: string, kind: RegExp, station: RegExp) {
  await page.goto(`${url}/plan/devices`);
  await page.getByRole('link', { name: 'Set up a device' }).click();
  await page.getByLabel('Name').fill(name);
  await choose(page, 'What it does', kind);
  await choose(page, 'Stations it sends for', station);
}

/** `nuvek simulate …`, ended with the test. */
function simulate(...args: string[]): ChildProcess {
  return spawn(BINARY, ['simulate', ...args], { stdio: ['ignore', 'pipe', 'inherit'] });
}

test('a connected gauge fills the entry that is open at its station; what it sends amiss is counted; unplugged it is silent', async ({
  browser,
  nuvek,
}) => {
  // The box of a gauge: it waits to be connected to.
  const box = createServer();
  const plugged = new Promise<Socket>((resolve) => box.once('connection', resolve));
  box.listen(0, '127.0.0.1');
  await once(box, 'listening');
  const address = box.address();
  if (address === null || typeof address === 'string') throw new Error('no port');
  const engineer = await signedIn(browser, nuvek.url, 'egon');
  await setUp(engineer, nuvek.url, 'Bench gauge G-7', /Bench gauge/, /Leak test/);
  await engineer.getByLabel('Address').fill(`127.0.0.1:${address.port}`);
  await engineer.getByRole('button', { name: 'Set it up' }).click();
  const device = engineer.getByRole('region', { name: 'Bench gauge G-7' });
  await expect(device).toContainText('never heard yet');

  const here = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(here, /Burst pressure/);
  const elsewhere = await signedIn(browser, nuvek.url, 'milo');
  await openEntry(elsewhere, /Firing shrinkage/);
  const gauge = await plugged;
  gauge.write('20.1 bar\r\n');
  await expect(here.getByLabel('Piece 1')).toHaveValue('20.1');
  await expect(here.getByLabel('Piece 2')).toBeFocused();
  gauge.write('hello\r\n20.3 bar\r\n');
  await expect(here.getByLabel('Piece 2')).toHaveValue('20.3');
  await expect(here.getByTestId('pencil-mean')).toHaveAttribute('data-value', /^20\.2/);
  for (const piece of [1, 2, 3, 4]) await expect(elsewhere.getByLabel(`Piece ${piece}`)).toHaveValue('');
  // The last value does not save by itself.
  await here.keyboard.press('Enter');
  await expect(here.getByText(/Sample \d+ is saved/)).toBeVisible();
  await expect(device).toContainText('2 taken · 1 refused');
  await expect(device.getByRole('row', { name: /not a number 1 .* hello/ })).toBeVisible();

  gauge.destroy();
  box.close();
  await expect(device.getByRole('row', { name: /connection lost 1/ })).toBeVisible();
  await query(nuvek.database, "update device set heard_at = now() - interval '20 minutes'");
  // Twenty minutes ago may be another day, and then the day stands before the clock.
  await expect(device).toContainText(/silent since (.*, )?\d\d:\d\d/);

  // Another box takes its place, at another address.
  const other = createServer();
  const pluggedAgain = new Promise<Socket>((resolve) => other.once('connection', resolve));
  const port = await freePort();
  other.listen(port, '127.0.0.1');
  await device.getByRole('link', { name: 'Change Bench gauge G-7' }).click();
  await engineer.getByLabel('Address').fill(`127.0.0.1:${port}`);
  await engineer.getByRole('button', { name: 'Keep the change' }).click();
  await expect(device).toContainText(`127.0.0.1:${port}`);
  (await pluggedAgain).write('20.2 bar\r\n');
  await expect(here.getByLabel('Piece 1')).toHaveValue('20.2');
  await expect(device).toContainText('✓ heard');
  (await pluggedAgain).destroy();
  other.close();
});

test('an analyser’s results wait for the run; they are taken over and confirmed by saving it', async ({
  browser,
  nuvek,
}) => {
  const port = await freePort();
  const engineer = await signedIn(browser, nuvek.url, 'egon');
  await setUp(engineer, nuvek.url, 'Analyser A-9', /Laboratory analyser/, /Test bench/);
  await choose(engineer, 'Who opens the connection', 'The device, to Nuvek');
  await engineer.getByLabel('Address').fill(`127.0.0.1:${port}`);
  for (const [level, specimen] of [
    ['Silver assay, low', 'QC-1'],
    ['Silver assay, high', 'QC-2'],
  ] as const) {
    const row = engineer.getByRole('group', { name: level });
    await row.getByLabel('Specimen').fill(specimen);
    await row.getByLabel('Test').fill('AG');
  }
  await engineer.getByRole('button', { name: 'Set it up' }).click();
  await expect(engineer.getByRole('region', { name: 'Analyser A-9' })).toBeVisible();

  const page = await signedIn(browser, nuvek.url, 'milo');
  await page.goto(`${nuvek.url}/lab`);
  await expect(async () => {
    const analyser = simulate(
      'analyser',
      '--connect',
      `127.0.0.1:${port}`,
      '--test',
      'QC-1:AG:mg/kg:42:0.1:1',
      '--test',
      'QC-2:AG:mg/kg:118:0.1:1',
      '--test',
      'QC-7:AG:mg/kg:1:0.1:1',
    );
    const [code] = (await once(analyser, 'exit')) as [number];
    expect(code).toBe(0);
  }).toPass();
  await expect(page.getByText('Analyser A-9 has sent two results')).toBeVisible();
  await page.getByRole('button', { name: 'Take them over' }).click();
  await expect(page.getByRole('textbox', { name: 'Silver assay, low' })).toHaveValue(/^4[12]\.\d$/);
  await expect(page.getByText('Analyser A-9 has sent')).toHaveCount(0);
  await page.getByRole('button', { name: 'Save run' }).click();
  await page.getByRole('button', { name: 'Release the run' }).waitFor();
  const taken = await query<{ login: string }>(
    nuvek.database,
    'select p.login from offer o join person p on p.id = o.taken_by',
  );
  expect(taken.map((t) => t.login)).toEqual(['milo', 'milo']);
  await expect(engineer.getByRole('row', { name: /no level is mapped to 1 .* QC-7 \/ AG/ })).toBeVisible();
});

test('a measuring machine posts samples with a token that is shown once; revoked, it is not heard', async ({
  browser,
  nuvek,
}) => {
  const engineer = await signedIn(browser, nuvek.url, 'egon');
  await setUp(engineer, nuvek.url, 'Coordinate machine', /Posts samples/, /End-cap gluing/);
  await engineer.getByRole('button', { name: 'Set it up' }).click();
  const token = await engineer.getByRole('textbox', { name: 'Token' }).inputValue();
  expect(token).toMatch(/^[0-9a-f]{64}$/);
  await engineer.getByRole('button', { name: 'It is copied' }).click();
  const [cap] = await query<{ id: string }>(
    nuvek.database,
    "select id from characteristic where name = 'Cap position'",
  );
  const ingest = simulate(
    'ingest',
    '--url',
    nuvek.url,
    '--token',
    token,
    '--characteristic',
    cap?.id ?? '',
    '--mean',
    '0.12',
    '--sigma',
    '0.01',
    '--decimals',
    '3',
    '--every',
    '0.2',
  );
  const device = engineer.getByRole('region', { name: 'Coordinate machine' });
  await expect(device).toContainText(/[1-9]\d* taken · nothing refused/);
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await page.goto(`${nuvek.url}/charts/${cap?.id ?? ''}`);
  await page.getByRole('group', { name: /Control chart/ }).press('End');
  await expect(page.getByRole('region', { name: /^Sample/ })).toContainText('Coordinate machine');
  await device.getByRole('button', { name: 'Revoke Coordinate machine …' }).click();
  await device.getByRole('button', { name: 'Revoke Coordinate machine', exact: true }).click();
  await expect(device).toContainText('revoked');
  ingest.kill();
  const after = await page.request.post(`${nuvek.url}/api/ingest`, {
    headers: { authorization: `Bearer ${token}` },
    data: { samples: [] },
  });
  expect(after.status()).toBe(401);
});

test('a sensor’s stream by MQTT makes samples on its chart', async ({ browser, nuvek }) => {
  const port = await freePort();
  const broker = simulate('broker', '--port', String(port));
  await once(broker.stdout ?? broker, 'data');
  const engineer = await signedIn(browser, nuvek.url, 'egon');
  await setUp(engineer, nuvek.url, 'Kiln thermometer', /Sensor by MQTT/, /Kiln/);
  await engineer.getByLabel('Broker').fill(`127.0.0.1:${port}`);
  await engineer.getByLabel('Topic').fill('kiln/peak');
  await choose(engineer, 'Characteristic', /Peak temperature/);
  await engineer.getByRole('textbox', { name: 'Unit' }).fill('/unit');
  await engineer.getByLabel('Id of the message').fill('/id');
  await engineer.getByLabel('Values', { exact: true }).fill('3');
  await engineer.getByRole('checkbox', { name: /Round its values/ }).check();
  await engineer.getByRole('button', { name: 'Set it up' }).click();
  const sensor = simulate(
    'sensor',
    '--broker',
    `127.0.0.1:${port}`,
    '--topic',
    'kiln/peak',
    '--mean',
    '1121',
    '--sigma',
    '4',
    '--decimals',
    '1',
    '--unit',
    '°C',
    '--every',
    '0.1',
  );
  await expect(engineer.getByRole('region', { name: 'Kiln thermometer' })).toContainText(
    /[1-9]\d* taken · nothing refused/,
    { timeout: 20_000 },
  );
  const [made] = await query<{ whole: boolean }>(
    nuvek.database,
    "select bool_and(readings[1] = round(readings[1])) as whole from sample s join person p on p.id = s.person_id where p.name = 'Kiln thermometer'",
  );
  expect(made?.whole).toBe(true);
  sensor.kill();
  broker.kill('SIGINT');
  await once(broker, 'exit');
});
