import { Nuvek, demoDatabase, dropDatabase, query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

const POINTS = 100_000;

/** From the request until all points are judged by the new limits, entries going on meanwhile. */
test('limits over a hundred thousand points', async ({ browser }) => {
  test.setTimeout(300_000);
  const database = await demoDatabase();
  const [found] = await query<{ id: string }>(
    database,
    `select id from characteristic where name = 'Viscosity' limit 1`,
  );
  const id = found?.id ?? '';
  await query(
    database,
    `insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings)
     select gen_random_uuid(), c.id, h.next_number - 1 + i, gen_random_uuid(), gen_random_uuid(), at, at, person, array[reading]::double precision[]
     from characteristic c join sample_head h on h.characteristic_id = c.id, (select id as person from person limit 1) p,
          lateral (select i, now() - ($2::int - i + 1) * interval '20 seconds' as at, 326 + 14 * sin(i::float8 * i) as reading
                   from generate_series(1, $2::int) i) s
     where c.id = $1`,
    [id, POINTS],
  );
  await query(database, 'update sample_head set next_number = next_number + $2::int where characteristic_id = $1', [
    id,
    POINTS,
  ]);
  await query(database, 'analyze');
  const [first] = await query<{ id: string }>(
    database,
    'select s.id from sample s where characteristic_id = $1 order by number desc offset $2 limit 1',
    [id, POINTS - 1],
  );
  const nuvek = await Nuvek.start(database);
  const page = await signedIn(browser, nuvek.url, 'egon');
  const url = `${nuvek.url}/api/characteristics/${id}`;
  const look = async () => {
    const [row] = await query<{ version: number; waiting: string; phase: string }>(
      database,
      `select limits_version as version, (select count(*) from judging_again) as waiting,
              (select id from phase where characteristic_id = $1 order by starts_at desc limit 1) as phase
       from sample_head where characteristic_id = $1`,
      [id],
    );
    return row;
  };
  const before = await look();
  const limits = {
    name: 'Narrower',
    basis: { from: 'given', figures: { center: 326, sigma: 9 }, source: 'For a figure.' },
    first: first?.id,
  };
  const started = performance.now();
  const answer = await page.request.post(`${url}/limits/changes`, {
    headers: { origin: nuvek.url },
    data: { version: before?.version, change: 'put_in_force', phase: before?.phase, limits },
  });
  expect(answer.status(), await answer.text()).toBe(202);
  const waits: number[] = [];
  while ((await look())?.waiting !== '0') {
    const asked = performance.now();
    const saved = await page.request.post(`${url}/samples`, {
      headers: { origin: nuvek.url },
      data: { device: crypto.randomUUID(), entry: crypto.randomUUID(), readings: ['331'], confirmed: true },
    });
    expect(saved.status()).toBe(201);
    waits.push(performance.now() - asked);
  }
  const seconds = (performance.now() - started) / 1000;
  const [raised] = await query<{ count: string }>(
    database,
    'select count(*) from signal where characteristic_id = $1',
    [id],
  );
  console.log(
    `put in force over ${POINTS} points: ${seconds.toFixed(1)} s, ${raised?.count} signals; ${waits.length} entries meanwhile, the longest took ${Math.max(...waits).toFixed(0)} ms`,
  );
  await nuvek.stop();
  await dropDatabase(database);
});
