import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { analyze } from '../support/analyze';
import { freePort, StandIn } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

interface Kept {
  new: boolean;
  id: string;
  code: string;
  withdrawn: boolean;
  value: number | null;
}

interface Summary {
  n: number;
  mean: number;
  sd: number;
}

interface Month {
  own: Summary;
  told: Summary | null;
  beside: { bias_percent: number; sdi: number; cvr: number } | null;
}

const LEVELS = ['AG-1:mg/kg:41:1.2', 'AG-2:mg/kg:118:2.5'];
const TOKEN = 'shown-by-the-journey';

/** An engineer sets up a group whose peers also measure silver. */
async function setUp(page: Page, url: string, name: string, address: string) {
  await page.goto(`${url}/lab/peers/new`);
  await page.getByLabel('Name', { exact: true }).fill(name);
  await page.getByLabel('What this laboratory is called there').fill('Laboratory 3');
  await page.getByLabel(/^Address/).fill(address);
  if (address !== '') await page.getByLabel('Token').fill(TOKEN);
  await page.getByLabel('Silver assay, low').fill('AG-1');
  await page.getByLabel('Silver assay, high').fill('AG-2');
}

/** Every figure of a comparison is the command's. */
async function figuresAreTheCommands(page: Page, url: string, group: string) {
  const answer = await page.request.get(`${url}/api/peers/${group}/comparison`);
  const levels = (await answer.json()) as { lots: { months: Month[] }[] }[];
  const compared = levels
    .flatMap(({ lots }) => lots.flatMap(({ months }) => months))
    .filter(({ told }) => told != null);
  expect(compared.length).toBeGreaterThan(0);
  for (const { own, told, beside } of compared) {
    const of = ({ n, mean, sd }: Summary) => ({ n, mean, sd: sd ?? 0 });
    if (told === null || beside === null) throw new Error('not compared');
    const expected = analyze<{ bias_percent: number; sdi: number; cvr: number }>({
      task: 'peer',
      own: of(own),
      peer: of(told),
    });
    expect(beside.bias_percent).toBeCloseTo(expected.bias_percent, 9);
    expect(beside.sdi).toBeCloseTo(expected.sdi, 9);
    if (own.sd !== null) expect(beside.cvr).toBeCloseTo(expected.cvr, 9);
  }
}

test('reviewed results reach a peer group that was down, once; its figures stand beside one’s own; one is taken back', async ({
  browser,
  nuvek,
}) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  const port = await freePort();
  await setUp(egon, nuvek.url, 'Journey group', `http://127.0.0.1:${port}/compare`);
  await egon.getByLabel('Token').fill('two words');
  await egon.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(egon.getByText('A token has 1 to 500 visible characters without blanks.')).toBeVisible();
  await egon.getByLabel('Token').fill(TOKEN);
  expect(await barriers(egon)).toEqual([]);
  await egon.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(egon.getByRole('heading', { name: 'Beside the peers' })).toBeVisible();
  await expect(egon.getByText(/Nothing was given yet/)).toBeVisible();
  const group = new URL(egon.url()).pathname.split('/').pop() ?? '';

  // A run of today is measured, released, and reviewed by another.
  const lotta = await signedIn(browser, nuvek.url, 'lotta');
  await lotta.goto(`${nuvek.url}/lab`);
  for (const [field, value] of [
    ['low', '42.1'],
    ['high', '118.4'],
  ] as const) {
    await lotta.getByRole('textbox', { name: `Silver assay, ${field}`, exact: true }).fill(value);
  }
  await lotta.getByRole('button', { name: /^Save/ }).click();
  await lotta.getByRole('button', { name: /^Release/ }).click();
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  await sanna.goto(`${nuvek.url}/lab/review`);
  await sanna
    .getByRole('button', { name: /^Mark run .* as reviewed$/ })
    .first()
    .click();
  await expect(egon.getByText(/No result is with the group, 2 wait\. The last try: .*refused/)).toBeVisible();

  const peers = StandIn.start<Kept>(
    ['peers', '--listen', `127.0.0.1:${port}`, ...LEVELS.flatMap((level) => ['--level', level])],
    { NUVEK_PEERS_TOKEN: TOKEN },
  );
  await expect(egon.getByText(/2 results are with the group\./)).toBeVisible({ timeout: 30_000 });
  await egon.getByRole('button', { name: 'Ask for statistics now' }).click();
  await expect(egon.getByRole('img', { name: /^low, .*: SDI [+−]/ })).toBeVisible({ timeout: 15_000 });
  const table = egon.getByRole('table', { name: 'Silver assay beside the peers' });
  await expect(table.getByRole('row')).toHaveCount(4);
  await figuresAreTheCommands(egon, nuvek.url, group);
  expect(await barriers(egon)).toEqual([]);
  expect(peers.heard.map(({ code, new: first }) => [code, first]).sort()).toEqual([
    ['AG-1', true],
    ['AG-2', true],
  ]);

  await sanna.goto(`${nuvek.url}/lab/peers/${group}/given`);
  const low = sanna.getByRole('row', { name: /Silver assay, low/ });
  await expect(low).toContainText('42.1 mg/kg');
  await expect(low).toContainText('with the group');
  await low.getByRole('button', { name: /^Take back Silver assay, low/ }).click();
  await sanna.keyboard.type('Wrong bottle on the bench.');
  await sanna.keyboard.press('Enter');
  await expect(low).toContainText('Sanna Samplethorpe: Wrong bottle on the bench.');
  await expect.poll(() => peers.heard.filter(({ withdrawn }) => withdrawn).length, { timeout: 15_000 }).toBe(1);
  await expect(egon.getByText(/1 result is with the group\./)).toBeVisible();
  await expect(table.getByRole('row')).toHaveCount(3);
  expect(await barriers(sanna)).toEqual([]);
  expect(peers.heard.length).toBe(3);
  peers.stop();
});

test('a group without an address is given files, and its statistics come from one', async ({ browser, nuvek }) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  await setUp(egon, nuvek.url, 'By post', '');
  await egon.getByLabel('Results measured from this day on').fill('2020-01-01');
  await egon.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(egon.getByText(/^By post · Laboratory 3\. No result is with the group, \d+ wait\./)).toBeVisible();
  await egon.getByRole('link', { name: 'What was given' }).click();
  const byHand = egon.getByRole('region', { name: 'By hand' });
  const [download] = await Promise.all([
    egon.waitForEvent('download'),
    byHand.getByRole('button', { name: 'JSON' }).click(),
  ]);
  const file = JSON.parse(await readFile(await download.path(), 'utf8')) as {
    laboratory: string;
    results: { code: string; value: number; taken_at: string }[];
  };
  expect(file.laboratory).toBe('Laboratory 3');
  expect(new Set(file.results.map(({ code }) => code))).toEqual(new Set(['AG-1', 'AG-2']));
  await byHand.getByRole('button', { name: `These ${file.results.length} were handed over` }).click();
  await expect(egon.getByText(`${file.results.length} results are with the group.`)).toBeVisible();

  const month = file.results.map(({ taken_at }) => taken_at.slice(0, 7)).sort()[Math.floor(file.results.length / 2)];
  const choose = byHand.getByLabel('Take in statistics');
  const csv = (lines: string[]) => ({ name: 'told.csv', mimeType: 'text/csv', buffer: Buffer.from(lines.join('\n')) });
  await choose.setInputFiles(csv(['code;month;n;mean;sd', `AG-1;${month};600;41,2;1,1`, `AG-7;${month};600;9;1`]));
  await expect(
    byHand.getByText(/Nothing of the file was taken in\. Entry 2 \(AG-7\): no level here is called so/),
  ).toBeVisible();
  await choose.setInputFiles(csv(['code;month;n;mean;sd', `AG-1;${month};600;41,2;1,1`]));
  await expect(byHand.getByText(/^✓?1 month is new or changed/)).toBeVisible();
  expect(await barriers(egon)).toEqual([]);
  await egon.getByRole('link', { name: 'By post' }).click();
  await expect(egon.getByRole('row', { name: /low mg\/kg .* 600 41\.20 1\.10/ }).first()).toBeVisible();
  const group = new URL(egon.url()).pathname.split('/').pop() ?? '';
  await figuresAreTheCommands(egon, nuvek.url, group);
});

test('the demonstration site lies beside its peers, for those who may only look too', async ({ browser, nuvek }) => {
  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  await tilda.getByRole('navigation').getByRole('link', { name: 'Lab' }).click();
  await tilda.getByRole('link', { name: 'Beside the peers' }).click();
  await expect(tilda.getByText(/Turbidity \(.*low \+\d\.\d in /)).toBeVisible();
  await expect(tilda.getByRole('button', { name: 'Ask for statistics now' })).toHaveCount(0);
  await tilda.getByRole('link', { name: 'What was given' }).click();
  await expect(tilda.getByRole('row', { name: /Sanna Samplethorpe: Measured with the calibrator/ })).toBeVisible();
  await expect(tilda.getByRole('button', { name: /^Take back/ })).toHaveCount(0);
});
