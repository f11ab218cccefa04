import { query } from './nuvek';

/**
 * Gives a characteristic of single values a history of so many samples before its first one, 20 seconds apart, and
 * judges nothing: for charts that are long. Values are normal about 326 with a sigma of 9, and drift a little.
 */
export async function longHistory(database: string, name: string, samples: number): Promise<string> {
  const [found] = await query<{ id: string }>(database, 'select id from characteristic where name = $1 limit 1', [name]);
  if (!found) throw new Error(`the demo has no ${name}`);
  await query(database, 'select setseed(0.5)');
  await query(
    database,
    `insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings)
     select gen_random_uuid(), c.id, h.next_number - 1 + i, gen_random_uuid(), gen_random_uuid(), at, at, p.id,
            array[round((326 + 9 * sqrt(-2 * ln(random() + 1e-12)) * cos(6.2831853 * random()) + 3 * sin(i / 4000.0))::numeric, 1)]::double precision[]
     from characteristic c join sample_head h on h.characteristic_id = c.id, (select id from person limit 1) p,
          (select min(taken_at) as first from sample where characteristic_id = $1) f,
          lateral (select i, f.first - ($2::int - i + 1) * interval '20 seconds' as at from generate_series(1, $2::int) i) s
     where c.id = $1`,
    [found.id, samples],
  );
  await query(database, 'update sample_head set next_number = next_number + $2::int where characteristic_id = $1', [
    found.id,
    samples,
  ]);
  await query(database, 'analyze');
  return found.id;
}
