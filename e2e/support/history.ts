import { query } from './nuvek';

/**
 * Gives a characteristic of single values a history of so many samples before its first one, 20 seconds apart, and
 * judges nothing: for charts that are long. Values are normal about 326 with a sigma of 9, and drift a little.
 */
export async function longHistory(database: string, name: string, samples: number): Promise<string> {
  const [found] = await query<{ id: string }>(database, 'select id from characteristic where name = $1 limit 1', [
    name,
  ]);
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

/** Gives counts a history of so many samples before the first one, a minute apart, each with one to four of a kind. */
export async function longCounts(database: string, name: string, samples: number): Promise<string> {
  const [found] = await query<{ id: string }>(database, 'select id from characteristic where name = $1 limit 1', [
    name,
  ]);
  if (!found) throw new Error(`the demo has no ${name}`);
  await query(
    database,
    `insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, inspected, count, defects)
     select gen_random_uuid(), c.id, h.next_number - 1 + i, gen_random_uuid(), gen_random_uuid(), at, at, p.id, 50,
            1 + i % 4,
            jsonb_build_array(jsonb_build_object('kind', kinds[1 + i % cardinality(kinds)], 'count', 1 + i % 4))
     from characteristic c join sample_head h on h.characteristic_id = c.id, (select id from person limit 1) p,
          (select min(taken_at) as first from sample where characteristic_id = $1) f,
          (select array(select known->>'id' from characteristic x, jsonb_array_elements(x.defect_kinds) known where x.id = $1) as kinds) q,
          lateral (select i, f.first - ($2::int - i + 1) * interval '1 minute' as at from generate_series(1, $2::int) i) s
     where c.id = $1`,
    [found.id, samples],
  );
  await query(database, 'update sample_head set next_number = next_number + $2::int where characteristic_id = $1', [
    found.id,
    samples,
  ]);
  // All of it in one go leaves behind what otherwise is cleared away by and by.
  await query(database, 'vacuum analyze');
  return found.id;
}

/** Copies the wall thickness of casting line 1 with its limits and its last samples, until there are so many charts. */
export async function moreCharts(database: string, charts: number): Promise<void> {
  await query(
    database,
    `with original as (
         select c.* from characteristic c join station s on s.id = c.station_id
         where c.name = 'Wall thickness' and s.name = 'Casting line 1'),
     copy as (
         insert into characteristic
         select (jsonb_populate_record(null::characteristic,
                     to_jsonb(o) || jsonb_build_object('id', gen_random_uuid(), 'name', 'Wall thickness, gauge ' || n))).*
         from original o, generate_series(1, $1::int - (select count(*) from characteristic)::int) n returning id),
     head as (insert into sample_head (characteristic_id, next_number) select id, 101 from copy),
     begun as (
         insert into phase (id, characteristic_id, name, starts_at)
         select gen_random_uuid(), copy.id, p.name, p.starts_at
         from copy, lateral (select * from phase where characteristic_id = (select id from original)
                             order by starts_at desc limit 1) p
         returning id),
     held as (
         insert into limits
         select (jsonb_populate_record(null::limits,
                     to_jsonb(l) || jsonb_build_object('id', gen_random_uuid(), 'phase_id', begun.id))).*
         from begun, lateral (select l.* from limits l join phase p on p.id = l.phase_id
                              where p.characteristic_id = (select id from original) and l.state <> 'retired'
                              order by p.starts_at desc limit 1) l)
     insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings, tags)
     select gen_random_uuid(), copy.id, row_number() over (partition by copy.id order by s.taken_at, s.number),
            gen_random_uuid(), gen_random_uuid(), s.taken_at, s.arrived_at, s.person_id, s.readings, s.tags
     from copy, lateral (select * from sample where characteristic_id = (select id from original) and not gap
                         order by taken_at desc, number desc limit 100) s`,
    [charts],
  );
  await query(database, 'analyze');
}
