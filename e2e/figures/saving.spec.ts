import { randomUUID } from 'node:crypto';
import type { Page } from '@playwright/test';
import { Nuvek, demoDatabase, dropDatabase, query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

const SHORT = 1_000;
const LONG = 1_000_000;
const SAVES = 200;

/** What happened to the limits of a long history: phases, restarts, other schemes, points set aside. */
async function live(database: string, id: string, samples: number): Promise<void> {
  await query(
    database,
    `with begun as (
         insert into phase (id, characteristic_id, name, starts_at)
         select gen_random_uuid(), $1, 'Phase ' || n, now() - (($2::int / 41 * (41 - n)) || ' minutes')::interval
         from generate_series(1, 40) n returning id, starts_at)
     insert into limits (id, phase_id, state, center, sigma, sigma_method, basis, name, put_in_force_at, put_in_force_by)
     select gen_random_uuid(), b.id, 'in_force', 326, 12, 'given', '{"from": "given", "figures": {}, "source": "x"}', 'Limits',
            b.starts_at, p.id
     from begun b, (select id from person limit 1) p`,
    [id, samples],
  );
  await query(
    database,
    `insert into earlier_scheme (characteristic_id, ends_at, chart, options, rule_set, k)
     select $1, now() - (n * 1000 || ' minutes')::interval, chart, options, rule_set, k
     from characteristic, generate_series(1, 20) n where id = $1`,
    [id],
  );
  await query(database, 'update sample set restart = true where characteristic_id = $1 and number % 20011 = 0', [id]);
  await query(
    database,
    `with aside as (update sample set aside = true where characteristic_id = $1 and number % 503 = 0 returning id)
     insert into set_aside (id, sample_id, at, person_id, cause_text)
     select gen_random_uuid(), aside.id, now(), p.id, 'mixed up' from aside, (select id from person limit 1) p`,
    [id],
  );
}

/** A site whose viscosity has a history of this length, one sample a minute until a minute ago. */
async function siteWith(samples: number, lived = false): Promise<{ nuvek: Nuvek; characteristic: string }> {
  const database = await demoDatabase();
  const found = await query<{ id: string }>(database, `select id from characteristic where name = 'Viscosity' limit 1`);
  const id = found[0]?.id;
  if (id === undefined) throw new Error('the demo has no viscosity');
  await query(
    database,
    `insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings)
     select gen_random_uuid(), c.id, h.next_number - 1 + i, gen_random_uuid(), gen_random_uuid(), at, at, person, array[reading]::double precision[]
     from characteristic c join sample_head h on h.characteristic_id = c.id, (select id as person from person limit 1) p,
          lateral (select i, now() - ($2::int - i + 1) * interval '1 minute' as at, 306 + i::bigint * 7919 % 41 as reading
                   from generate_series(1, $2::int) i) s
     where c.id = $1`,
    [id, samples],
  );
  await query(database, 'update sample_head set next_number = next_number + $2::int where characteristic_id = $1', [
    id,
    samples,
  ]);
  if (lived) await live(database, id, samples);
  await query(database, 'analyze');
  return { nuvek: await Nuvek.start(database), characteristic: id };
}

async function milliseconds(page: Page, url: string, characteristic: string, i: number): Promise<number> {
  const started = performance.now();
  const response = await page.request.post(`${url}/api/characteristics/${characteristic}/samples`, {
    data: { device: randomUUID(), entry: randomUUID(), readings: [String(320 + (i % 11))], confirmed: true },
    headers: { Origin: url },
  });
  expect(response.status(), await response.text()).toBe(201);
  return performance.now() - started;
}

const median = (times: number[]) => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)] ?? Number.NaN;

/** Saves by turns, so that whatever else the machine does slows both alike. */
test('saving costs the same after a long history with phases, restarts, schemes and points set aside', async ({
  browser,
}) => {
  test.setTimeout(600_000);
  const sites = [await siteWith(SHORT), await siteWith(LONG, true)];
  const pages = await Promise.all(sites.map(({ nuvek }) => signedIn(browser, nuvek.url, 'tilda')));
  const times: [number[], number[]] = [[], []];
  for (let i = 0; i < SAVES; i++) {
    for (const place of [0, 1] as const) {
      const site = sites[place];
      const page = pages[place];
      if (site && page) times[place].push(await milliseconds(page, site.nuvek.url, site.characteristic, i));
    }
  }
  const [short, long] = times.map(median);
  console.log(
    `saving after ${SHORT} samples: median ${short?.toFixed(1)} ms; after ${LONG}: ${long?.toFixed(1)} ms; ratio ${((long ?? 0) / (short ?? 1)).toFixed(2)}, of ${SAVES} each`,
  );
  for (const { nuvek } of sites) {
    await nuvek.stop();
    await dropDatabase(nuvek.database);
  }
});
