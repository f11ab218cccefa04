import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { expect, signedIn, test } from '../support/test';
import { query } from '../support/nuvek';
import { report } from './report';

const ROWS = 1_000_000;

/** What the plan tells beside a set-up. */
const BESIDE = new Set(['id', 'station', 'station_id', 'product', 'product_id', 'version', 'analyte', 'area']);

const RECIPE = {
  read: { format: 'csv' },
  shape: { kind: 'across', values: ['reading'] },
  time: { column: 'at', format: '%Y-%m-%dT%H:%M' },
};

/** Numbers of a process in control: a sum of four even ones, the same in every run. */
function* readings(): Generator<string> {
  let state = 20_261_129;
  const even = () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32 - 0.5;
  };
  for (;;) yield (330 + 4 * (even() + even() + even() + even())).toFixed(1);
}

/** A list of a million rows into one characteristic, judged aside, while somebody enters at another. */
test('a million rows are brought in', async ({ browser, nuvek }) => {
  test.setTimeout(900_000);
  const page = await signedIn(browser, nuvek.url, 'egon');
  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  const headers = { origin: nuvek.url };
  const [viscosity] = await query<{ id: string }>(
    nuvek.database,
    `select id from characteristic where name = 'Viscosity' limit 1`,
  );
  const plan = (await (await page.request.get(`${nuvek.url}/api/plan`)).json()) as {
    stations: { id: string }[];
    products: { id: string }[];
    characteristics: Record<string, unknown>[];
  };
  const like = plan.characteristics.find(({ id }) => id === viscosity?.id) ?? {};
  const set = Object.fromEntries(
    Object.entries({ ...like, decimals: 1, asked_tags: [] }).filter(([field]) => !BESIDE.has(field)),
  );
  const made = async (name: string) => {
    const response = await page.request.post(`${nuvek.url}/api/plan/characteristics`, {
      headers,
      data: { station: plan.stations[0]?.id, product: plan.products[0]?.id, characteristic: { ...set, name } },
    });
    expect(response.status(), await response.text()).toBe(201);
    return ((await response.json()) as { id: string }).id;
  };
  const values = readings();
  const at = Date.UTC(2024, 0, 1);
  const sent = async (rows: number) => {
    const line = (i: number) =>
      `${new Date(at + i * 60_000).toISOString().slice(0, 16)},${values.next().value as string}\n`;
    const response = await page.request.post(`${nuvek.url}/api/data/files?name=${rows}.csv`, {
      headers: { ...headers, 'content-type': 'application/octet-stream' },
      data: Buffer.from(`at,reading\n${Array.from({ length: rows }, (_, i) => line(i)).join('')}`),
      timeout: 120_000,
    });
    expect(response.status()).toBe(201);
    return ((await response.json()) as { id: string }).id;
  };
  const begun = async (file: string, characteristic: string) => {
    const asked = await page.request.post(`${nuvek.url}/api/data/imports`, {
      headers,
      data: { file, recipe: RECIPE, characteristic },
      timeout: 300_000,
    });
    expect(asked.status(), await asked.text()).toBe(201);
    return ((await asked.json()) as { id: string }).id;
  };
  const done = async (id: string) => {
    const state = async () =>
      ((await (await page.request.get(`${nuvek.url}/api/data/imports/${id}`)).json()) as { state: string }).state;
    await expect.poll(state, { timeout: 600_000, intervals: [250] }).toBe('done');
  };
  const characteristic = await made('A million');
  const file = await sent(ROWS);

  // Somebody enters all the while.
  const saves: number[] = [];
  let going = true;
  const entering = (async () => {
    while (going) {
      const began = performance.now();
      const saved = await tilda.request.post(`${nuvek.url}/api/characteristics/${viscosity?.id ?? ''}/samples`, {
        data: { device: randomUUID(), entry: randomUUID(), readings: ['330'], confirmed: true },
        headers,
      });
      expect(saved.status()).toBe(201);
      saves.push(performance.now() - began);
      await new Promise((resolve) => setTimeout(resolve, 250));
    }
  })();
  const pid = nuvek.pid;
  const memory = () => Number(/VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]) / 1024;
  const before = memory();
  const began = performance.now();
  const id = await begun(file, characteristic);
  const answered = performance.now();
  await done(id);
  const seconds = (performance.now() - began) / 1000;
  going = false;
  await entering;
  const [stored] = await query<{ samples: string; signals: string }>(
    nuvek.database,
    `select (select count(*) from sample where import_id = $1) as samples,
            (select count(*) from signal where characteristic_id = $2 and withdrawn_at is null) as signals`,
    [id, characteristic],
  );
  expect(stored?.samples).toBe(String(ROWS));
  console.log(
    `a million rows: ${seconds.toFixed(1)} s, ${(ROWS / seconds).toFixed(0)} samples a second, answered after ` +
      `${((answered - began) / 1000).toFixed(1)} s; ${stored?.signals ?? ''} signals; memory at most ` +
      `${memory().toFixed(0)} MB, ${before.toFixed(0)} MB before`,
  );
  report('a save meanwhile', saves);

  // And out again: two hundred thousand rows of two characteristics.
  const second = await made('A hundred thousand');
  await done(await begun(await sent(100_000), second));
  for (const format of ['xlsx', 'csv', 'ods', 'json']) {
    const asking = performance.now();
    const table = await page.request.get(
      `${nuvek.url}/api/data/samples?of=${characteristic},${second}&last=100000&shape=across&as=${format}`,
      { timeout: 120_000 },
    );
    expect(table.status()).toBe(200);
    const bytes = (await table.body()).length;
    console.log(
      `200,000 rows out as ${format}: ${((performance.now() - asking) / 1000).toFixed(1)} s, ${(bytes / 1e6).toFixed(1)} MB`,
    );
  }
});
