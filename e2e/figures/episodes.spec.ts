import { demoDatabase, dropDatabase, Nuvek, query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';
import { report } from './report';

const EPISODES = 50_000;

/** Prints how long the queue takes with fifty thousand episodes, many of them raised at one time, and a decision on 200. */
test('the queue of fifty thousand episodes', async ({ browser }) => {
  const database = await demoDatabase();
  await query(
    database,
    `insert into episode (id, characteristic_id, aspect, side, from_taken_at, from_number, to_taken_at, to_number,
         raised_at, state, trial)
     select gen_random_uuid(), e.characteristic_id, e.aspect, e.side, e.from_taken_at, e.from_number, e.to_taken_at,
            e.to_number, date_trunc('hour', e.raised_at - (i % 500) * interval '1 hour'),
            case when i % 10 = 0 then 'answered' else 'reviewed' end, false
     from (select *, row_number() over (order by raised_at, id) as n from episode where state = 'reviewed') e
     join generate_series(1, $1::int) i on i % 200 + 1 = e.n`,
    [EPISODES],
  );
  await query(database, 'analyze episode');
  await query(
    database,
    `insert into signal (id, characteristic_id, panel, rule, side, from_sample, at_sample, to_sample, at_taken_at,
         to_taken_at, raised_at, limits_id, center, sigma, k, trial, late, state, episode_id, answered_by)
     select gen_random_uuid(), g.characteristic_id, g.panel, g.rule, g.side, g.from_sample, g.at_sample, g.to_sample,
            g.at_taken_at, g.to_taken_at, e.raised_at, g.limits_id, g.center, g.sigma, g.k, false, false, e.state, e.id, p.id
     from episode e
     join (select distinct on (characteristic_id) * from signal where state = 'reviewed' order by characteristic_id, id) g
          on g.characteristic_id = e.characteristic_id
     cross join (select id from person where role = 'technician' order by id limit 1) p
     where not exists (select from signal o where o.episode_id = e.id)`,
  );
  await query(
    database,
    `with answer as (
         insert into answer (id, person_id, at, nothing_found, action)
         select gen_random_uuid(), answered_by, now(), true, 'Looked.' from signal where answered_by is not null limit 1
         returning id, person_id)
     insert into answer_of select a.id, g.id from answer a join signal g on g.answered_by = a.person_id
     where not exists (select from answer_of o where o.signal_id = g.id)`,
  );
  await query(database, 'analyze episode, signal, answer_of');
  const nuvek = await Nuvek.start(database);
  const page = await signedIn(browser, nuvek.url, 'sanna');
  const timed = async (path: string) => {
    const started = performance.now();
    const answer = await page.request.get(`${nuvek.url}${path}`);
    expect(answer.status()).toBe(200);
    return {
      ms: performance.now() - started,
      rows: (await answer.json()) as { id: string; version: number; raised_at: string; sent_back: boolean }[],
    };
  };
  const [lists, filtered, opened]: [number[], number[], number[]] = [[], [], []];
  const seen = new Set<string>();
  let behind = '';
  let all = 0;
  for (let i = 0; i < 40; i++) {
    const { ms, rows } = await timed(`/api/episodes?${behind}`);
    lists.push(ms);
    rows.forEach(({ id }) => seen.add(id));
    all += rows.length;
    const last = rows[rows.length - 1];
    if (last) {
      behind = `behind_raised=${encodeURIComponent(last.raised_at)}&behind=${last.id}&behind_sent_back=${String(last.sent_back)}`;
      const started = performance.now();
      await page.request.get(`${nuvek.url}/api/episodes/${last.id}`);
      opened.push(performance.now() - started);
    }
    filtered.push((await timed('/api/episodes?state=answered')).ms);
  }
  expect(seen.size).toBe(all);
  report('a page of 200 of 50,000 episodes', lists);
  report('the same of those to review', filtered);
  report('one of them', opened);
  const [{ person } = { person: '' }] = await query<{ person: string }>(
    database,
    "select id as person from person where login = 'milo'",
  );
  const narrowed: Record<string, string> = {
    'as a queue': 'to_review=true&order=queue',
    'by rule': 'rule=one_side',
    'by a rule that few broke': 'rule=hugging',
    'by person': `person=${person}`,
    'of the laboratory': 'laboratory=true&to_review=true',
    'of a week': 'from=2026-01-01T00:00:00Z&until=2026-01-08T00:00:00Z',
  };
  for (const [how, by] of Object.entries(narrowed)) {
    const [page, count]: [number[], number[]] = [[], []];
    for (let i = 0; i < 10; i++) {
      page.push((await timed(`/api/episodes?${by}`)).ms);
      count.push((await timed(`/api/episodes/count?${by}`)).ms);
    }
    report(`a page of 50,000 ${how}`, page);
    report(`their count ${how}`, count);
  }
  const { rows } = await timed('/api/episodes?state=answered');
  const started = performance.now();
  const decided = await page.request.post(`${nuvek.url}/api/episodes/reviews`, {
    data: { episodes: rows.map(({ id, version }) => ({ id, version })), decision: 'accepted' },
    headers: { Origin: nuvek.url },
  });
  const ms = performance.now() - started;
  const { kept } = (await decided.json()) as { kept: number };
  console.log(`a decision on ${rows.length} at once: ${ms.toFixed(0)} ms, kept for ${kept}`);
  await nuvek.stop();
  await dropDatabase(database);
});
