import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { APIRequestContext } from '@playwright/test';
import { BINARY, databaseUrl, dropDatabase, Nuvek, query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

/** The chart of each characteristic, as it is sent. */
async function charts(request: APIRequestContext, url: string) {
  const plan = (await (await request.get(`${url}/api/plan`)).json()) as { characteristics: { id: string }[] };
  const all: Record<string, unknown> = {};
  for (const { id } of plan.characteristics) {
    const answer = await request.get(`${url}/api/characteristics/${id}/chart?last=100000&drawn=4000`);
    expect(answer.status()).toBe(200);
    all[id] = await answer.json();
  }
  return all;
}

test('the whole site goes into one archive, from which an empty database becomes the same site', async ({
  browser,
  nuvek,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'nuvek-archive-'));
  const archive = join(folder, 'site.zip');
  const empty = `restored_${Date.now()}`;
  const run = (...args: string[]) => execFileSync(BINARY, args).toString();
  try {
    expect(run('backup', archive, '--database', databaseUrl(nuvek.database))).toContain('Tarn Valley Filterworks');
    await query('postgres', `create database ${empty} template template0`);
    const said = run('restore', archive, '--database', databaseUrl(empty));
    expect(said).toContain('each row compared');
    expect(said).toContain('The trail is whole');
    const other = await Nuvek.start(empty);
    try {
      const [here, there] = [await signedIn(browser, nuvek.url, 'egon'), await signedIn(browser, other.url, 'egon')];
      const before = await charts(here.request, nuvek.url);
      expect(Object.keys(before).length).toBeGreaterThan(10);
      expect(await charts(there.request, other.url)).toEqual(before);
      // It is worked with as before.
      await there.goto(`${other.url}/signals`);
      await expect(there.getByRole('heading', { name: 'Signals', level: 1 })).toBeVisible();
      await there.getByRole('navigation').getByRole('link', { name: 'Charts' }).click();
      await expect(there.getByRole('heading', { name: 'Charts', level: 1 })).toBeVisible();
    } finally {
      await other.stop();
    }
  } finally {
    await dropDatabase(empty);
    rmSync(folder, { recursive: true });
  }
});
