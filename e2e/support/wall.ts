import { query } from './nuvek';

/** The wall thickness of casting line 1: its id, and the limits that hold at the newest point. */
export async function wall(database: string) {
  const [found] = await query<{ id: string; center: number; sigma: number }>(
    database,
    `select c.id, l.center, l.sigma
     from characteristic c join station s on s.id = c.station_id join phase p on p.characteristic_id = c.id
     join limits l on l.phase_id = p.id and l.state <> 'retired'
     where c.name = 'Wall thickness' and s.name = 'Casting line 1' order by p.starts_at desc limit 1`,
  );
  if (!found) throw new Error('the demo has no wall thickness');
  return found;
}
