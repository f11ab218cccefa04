import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { expect, signedIn, test } from '../support/test';
import { wall } from '../support/wall';

async function taken(page: Page, what: string): Promise<{ name: string; bytes: Buffer }> {
  await page.getByRole('button', { name: 'Take along …' }).click();
  const coming = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: what }).click();
  const download = await coming;
  return { name: download.suggestedFilename(), bytes: await readFile(await download.path()) };
}

test('what is seen is taken along: a link, pictures, and the points as the analysis has them', async ({
  browser,
  nuvek,
}) => {
  const { id, center, sigma } = await wall(nuvek.database);
  const page = await signedIn(browser, nuvek.url, 'milo', { permissions: ['clipboard-read', 'clipboard-write'] });
  await page.goto(`${nuvek.url}/charts/${id}?last=30&hide=zones`);
  await page.getByRole('group', { name: /Control chart/ }).waitFor();

  await page.getByRole('button', { name: 'Take along …' }).click();
  await page.getByRole('menuitem', { name: 'Copy the link to exactly this' }).click();
  await expect(page.getByText('The link is copied.')).toBeVisible();
  // Also where a scale is kept for everybody later.
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe(`${page.url()}&scale=auto`);

  const svg = await taken(page, 'Picture, as SVG');
  expect(svg.name).toBe('wall-thickness.svg');
  expect(svg.bytes.toString()).toMatch(/^<svg [^>]*viewBox="0 0 \d+/);
  expect(svg.bytes.toString()).toContain('UCL');
  const png = await taken(page, 'Picture, as PNG');
  expect([...png.bytes.subarray(0, 8)]).toEqual([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  // Twice as fine as the screen: its width stands in the file.
  const width = await page.getByRole('group', { name: /Control chart/ }).evaluate((svg) => svg.clientWidth);
  expect(png.bytes.readUInt32BE(16)).toBe(width * 2);

  const csv = await taken(page, 'Points, as CSV');
  const [head = '', ...lines] = csv.bytes.toString().trimEnd().split('\r\n');
  const columns = head.split(',');
  const rows = lines.map((line) => Object.fromEntries(line.split(',').map((cell, i) => [columns[i], cell])));
  expect(rows.length).toBe(30);
  const measured = rows.filter((row) => row.gap === '' && row.reading_1 !== '');
  const analysed = await page.request.post(`${nuvek.url}/api/analyze`, {
    headers: { origin: nuvek.url },
    data: {
      task: 'chart',
      chart: 'xbar_r',
      points: measured.map((row) => ({ values: [1, 2, 3, 4, 5].map((piece) => Number(row[`reading_${piece}`])) })),
      limits: [{ basis: 'given', center, sigma }],
    },
  });
  const { panels } = (await analysed.json()) as { panels: { points: Record<string, number>[] }[] };
  measured.forEach((row, i) => {
    for (const [panel, statistic] of [
      [0, 'mean'],
      [1, 'range'],
    ] as const) {
      const point = panels[panel]?.points[i];
      for (const [of, name] of [
        ['value', statistic],
        ['lower', `${statistic}_lower`],
        ['center', `${statistic}_center`],
        ['upper', `${statistic}_upper`],
      ] as const)
        expect(
          Math.abs(Number(row[name]) - (point?.[of] ?? NaN)),
          `${name} of sample ${row.sample}`,
        ).toBeLessThanOrEqual(1e-9 * Math.abs(point?.[of] ?? 0));
    }
  });
  const sheet = await taken(page, 'Points, as a spreadsheet');
  expect(sheet.name).toBe('wall-thickness.xlsx');
  expect(sheet.bytes.subarray(0, 2).toString()).toBe('PK');

  // What is looked at closely is what is taken.
  await page.getByRole('group', { name: /Control chart/ }).focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('+');
  const few = await taken(page, 'Points, as CSV');
  expect(few.bytes.toString().trimEnd().split('\r\n').length - 1).toBeLessThan(30);
});

test('a paper chart has today’s limits, room for what is read, and a code that opens the entry', async ({
  browser,
  nuvek,
}) => {
  const { id } = await wall(nuvek.database);
  const page = await signedIn(browser, nuvek.url, 'milo');
  await page.goto(`${nuvek.url}/charts/${id}`);
  const card = page.getByRole('region', { name: 'Chart', exact: true });
  const upper = await card.getByText(/^UCL/).first().textContent();
  await page.getByRole('button', { name: 'Take along …' }).click();
  await page.getByRole('menuitem', { name: 'Paper chart, to fill by hand …' }).click();
  const sheet = page.getByRole('region', { name: 'Paper chart: Wall thickness' });
  await expect(sheet).toContainText(upper ?? '');
  for (const row of ['Date, time', 'Piece 1', 'Piece 5', 'Mean', 'Range', 'Initials'])
    await expect(sheet.getByText(row, { exact: true }).last()).toBeVisible();
  const entry = await sheet.locator('[data-entry]').getAttribute('data-entry');
  expect(entry).toBe(`${nuvek.url}/rounds/${id}`);
  expect(await barriers(page)).toEqual([]);

  // It fits on one sheet of A4 and of letter, lying, in black and white.
  for (const format of ['A4', 'Letter']) {
    const pdf = await page.pdf({ format, preferCSSPageSize: true });
    expect(pdf.toString('latin1').match(/\/Type\s*\/Page\b/g)?.length, format).toBe(1);
  }
  await page.goto(entry ?? '');
  await expect(page.getByRole('button', { name: 'Save sample' })).toBeVisible();
  await page.goto(`${nuvek.url}/charts/${id}/paper?only=label`);
  await expect(page.getByRole('region', { name: 'Label for the station' })).toContainText('Casting line 1');
});

test('a chart fits on one sheet, standing, with its figures', async ({ browser, nuvek }) => {
  const { id } = await wall(nuvek.database);
  const page = await signedIn(browser, nuvek.url, 'milo');
  await page.goto(`${nuvek.url}/charts/${id}?last=200`);
  await page.getByRole('group', { name: /Control chart/ }).waitFor();
  await page.getByRole('region', { name: 'Figures' }).waitFor();
  for (const format of ['A4', 'Letter']) {
    const pdf = await page.pdf({ format, margin: { top: '10mm', bottom: '10mm', left: '10mm', right: '10mm' } });
    expect(pdf.toString('latin1').match(/\/Type\s*\/Page\b/g)?.length, format).toBe(1);
  }
});
