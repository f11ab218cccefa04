import { Nuvek, demoDatabase, dropDatabase, query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';
import { report } from './report';

const CHARACTERISTICS = 500;

/** The list of limits to look at, every one of them to be looked at. */
test('limits to look at of five hundred characteristics', async ({ browser }) => {
  test.setTimeout(300_000);
  const database = await demoDatabase();
  await query(
    database,
    `create temporary table more as
       select gen_random_uuid() as id, gen_random_uuid() as phase, gen_random_uuid() as limits, i from generate_series(1, ${CHARACTERISTICS}) i;
     insert into characteristic
       select (jsonb_populate_record(c, jsonb_build_object('id', more.id, 'name', c.name || ' ' || i))).*
       from characteristic c, more where c.name = 'Viscosity';
     insert into sample_head (characteristic_id, next_number) select id, 76 from more;
     insert into trail_head (chain, position, hash) select id, 1, '' from more;
     insert into phase (id, characteristic_id, name, starts_at) select phase, id, 'First', now() - interval '30 days' from more;
     insert into limits (id, phase_id, state, center, sigma, sigma_method, basis, name, put_in_force_at, put_in_force_by)
       select limits, phase, 'in_force', 300, 10, 'given', '{"from": "given", "figures": {"center": 300, "sigma": 10}, "source": "For a figure."}',
              'First', now() - interval '30 days', (select id from person limit 1) from more;
     insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings)
       select gen_random_uuid(), id, n, gen_random_uuid(), gen_random_uuid(), now() - (76 - n) * interval '1 hour', now(),
              (select id from person limit 1), array[320 + 9 * sin(n::float8 * n)]::double precision[]
       from more, generate_series(1, 75) n;
     analyze`,
  );
  const started = performance.now();
  const nuvek = await Nuvek.start(database);
  const listed = async () =>
    Number(
      (await query<{ count: string }>(database, 'select count(*) from limits_look where listed_since is not null'))[0]
        ?.count,
    );
  while ((await listed()) < CHARACTERISTICS) await new Promise((resolve) => setTimeout(resolve, 100));
  console.log(
    `all ${CHARACTERISTICS} looked at: ${((performance.now() - started) / 1000).toFixed(1)} s from the start`,
  );
  const page = await signedIn(browser, nuvek.url, 'egon');
  const times: number[] = [];
  for (let i = 0; i < 40; i++) {
    const asked = performance.now();
    const answer = await page.request.get(`${nuvek.url}/api/limits/to-look-at`);
    times.push(performance.now() - asked);
    expect(((await answer.json()) as unknown[]).length).toBeGreaterThanOrEqual(CHARACTERISTICS);
  }
  report(`the list of ${CHARACTERISTICS} limits to look at`, times);
  await nuvek.stop();
  await dropDatabase(database);
});
