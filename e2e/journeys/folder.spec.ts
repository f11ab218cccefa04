import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

const RECIPE = {
  read: { format: 'csv' },
  shape: { kind: 'across', values: ['peak'] },
  time: { column: 'at', format: '%Y-%m-%d %H:%M' },
};

const two = (n: number) => String(n).padStart(2, '0');

/** A line a minute, from a day of January on. */
function table(rows: number, day: number): string {
  const line = (i: number) => {
    const at = new Date(Date.UTC(2026, 0, day, 0, i));
    const date = `${at.getUTCFullYear()}-${two(at.getUTCMonth() + 1)}-${two(at.getUTCDate())}`;
    return `${date} ${two(at.getUTCHours())}:${two(at.getUTCMinutes())},${1118 + (i % 5)}`;
  };
  return ['at,peak', ...Array.from({ length: rows }, (_, i) => line(i))].join('\n') + '\n';
}

async function choose(page: Page, list: string, option: RegExp) {
  await page.getByRole('combobox', { name: list }).click();
  await page.getByRole('option', { name: option }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('listbox')).toHaveCount(0);
}

test('tables in a watched folder are taken when they are whole; a server that is killed in the middle stores each row once', async ({
  browser,
  nuvek,
}) => {
  const root = mkdtempSync(join(tmpdir(), 'nuvek-tables-'));
  const folder = join(root, 'kiln');
  const report = (place: string, name: string) => join(folder, place, `${name}.report.json`);
  const read = (path: string) => JSON.parse(readFileSync(path, 'utf8')) as Record<string, unknown>;
  try {
    mkdirSync(folder);
    await nuvek.set({ NUVEK_TABLES: root });
    const egon = await signedIn(browser, nuvek.url, 'egon');
    const kept = await egon.request.post(`${nuvek.url}/api/data/recipes`, {
      data: { name: 'Kiln log', recipe: RECIPE },
      headers: { origin: nuvek.url },
    });
    expect(kept.status()).toBe(201);

    await egon.goto(`${nuvek.url}/plan/devices`);
    await egon.getByRole('link', { name: 'Set up a device' }).click();
    await egon.getByLabel('Name').fill('Kiln log');
    await choose(egon, 'What it does', /watched folder/);
    await choose(egon, 'Stations it sends for', /Kiln/);
    await egon.getByLabel('Folder').fill('../kiln');
    await choose(egon, 'Recipe', /Kiln log/);
    await choose(egon, 'Samples go into', /Peak temperature/);
    for (const colorScheme of ['light', 'dark'] as const) {
      await egon.emulateMedia({ colorScheme });
      // The button takes a moment to its colour.
      await egon.waitForTimeout(500);
      expect(await barriers(egon)).toEqual([]);
    }
    await egon.getByRole('button', { name: 'Set it up' }).click();
    await expect(egon.getByRole('alert')).toContainText('The name of one folder');
    await egon.getByLabel('Folder').fill('kiln');
    await egon.getByRole('button', { name: 'Set it up' }).click();
    const device = egon.getByRole('region', { name: 'Kiln log' });
    await expect(device).toContainText('no table yet');

    // Half of it, and the rest a moment later.
    const small = table(40, 5);
    writeFileSync(join(folder, 'monday.csv'), small.slice(0, 300));
    await egon.waitForTimeout(2000);
    writeFileSync(join(folder, 'monday.csv'), small);
    await expect.poll(() => existsSync(report('done', 'monday.csv')), { timeout: 60_000 }).toBe(true);
    expect(read(report('done', 'monday.csv'))).toMatchObject({ rows: 40, refused: null, into: 'Peak temperature' });
    await expect(device).toContainText('40 taken');

    writeFileSync(join(folder, 'tuesday.csv'), 'at,peak\n2026-01-06 00:00,hot\n');
    await expect.poll(() => existsSync(report('refused', 'tuesday.csv')), { timeout: 60_000 }).toBe(true);
    await expect(device).toContainText('table with cells that cannot be read');

    // So many that they are judged aside, and the power goes meanwhile.
    writeFileSync(join(folder, 'archive.csv'), table(12_000, 10));
    const state = async () => {
      const rows = await query<{ state: string }>(
        nuvek.database,
        `select state from import where file_name = 'archive.csv' order by at desc limit 1`,
      );
      return rows[0]?.state;
    };
    await expect.poll(state, { timeout: 60_000, intervals: [50] }).toBe('waiting');
    await nuvek.kill();
    expect(existsSync(join(folder, 'archive.csv'))).toBe(true);
    await nuvek.start();
    await expect.poll(() => existsSync(report('done', 'archive.csv')), { timeout: 120_000 }).toBe(true);
    const stored = await query<{ stored: string; entries: string }>(
      nuvek.database,
      `select count(*) as stored, count(distinct entry) as entries from sample s join import i on i.id = s.import_id`,
    );
    expect(stored).toEqual([{ stored: '12040', entries: '12040' }]);
    await expect(device).toContainText('12040 taken', { timeout: 60_000 });
    // Whoever looks at what was brought in finds them there, under the name of the device.
    await egon.goto(`${nuvek.url}/data`);
    await expect(egon.getByText('archive.csv').first()).toBeVisible();
  } finally {
    rmSync(root, { recursive: true, force: true });
  }
});
