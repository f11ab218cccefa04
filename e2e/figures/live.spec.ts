import type { Page } from '@playwright/test';
import { demoDatabase, dropDatabase, Nuvek, query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';
import { report } from './report';

const EPISODES = 200;

/** Prints how long an answer takes to the supervisor's screen, and the review to the technician's, 200 times each. */
test('from an answer and from a review to the screen of the other', async ({ browser }) => {
  test.setTimeout(1_200_000);
  const database = await demoDatabase();
  await query(
    database,
    `with place as (
         select g.*, row_number() over (order by g.raised_at, g.id) as i from signal g
         where g.state = 'reviewed' and g.run_id is null limit $1),
     episode as (
         insert into episode (id, characteristic_id, aspect, from_taken_at, from_number, to_taken_at, to_number,
             raised_at, state, trial)
         select gen_random_uuid(), g.characteristic_id, 'location', f.taken_at, f.number, t.taken_at, t.number,
                now() - g.i * interval '1 second', 'open', false
         from place g join sample f on f.id = g.from_sample join sample t on t.id = g.to_sample
         returning id, raised_at)
     insert into signal (id, characteristic_id, panel, rule, side, from_sample, at_sample, to_sample, at_taken_at,
         to_taken_at, raised_at, limits_id, center, sigma, k, trial, late, state, episode_id)
     select gen_random_uuid(), g.characteristic_id, g.panel, g.rule, g.side, g.from_sample, g.at_sample, g.to_sample,
            g.at_taken_at, g.to_taken_at, e.raised_at, g.limits_id, g.center, g.sigma, g.k, false, false, 'open', e.id
     from episode e join place g on e.raised_at = now() - g.i * interval '1 second'`,
    [EPISODES],
  );
  const ids = await query<{ id: string }>(database, 'select id from episode order by raised_at desc limit $1', [
    EPISODES,
  ]);
  const nuvek = await Nuvek.start(database);
  const milo = await signedIn(browser, nuvek.url, 'milo');
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  const [answers, reviews]: [number[], number[]] = [[], []];
  const post = async (page: Page, path: string, data: object) => {
    const started = Date.now();
    const answer = await page.request.post(`${nuvek.url}${path}`, { headers: { origin: nuvek.url }, data });
    expect(answer.status(), await answer.text()).toBe(200);
    return started;
  };
  for (const [i, { id }] of ids.entries()) {
    for (const page of [milo, sanna]) await opened(page, nuvek.url, id);
    const action = `Measured once more, for the ${i + 1}. time.`;
    const answered = shown(sanna, action);
    const said = { version: 1, cause: null, cause_text: null, nothing_found: true, action };
    answers.push(
      (await Promise.all([answered, post(milo, `/api/episodes/${id}/answers`, said)])).reduce((a, b) => a - b),
    );
    const remark = `Agreed, for the ${i + 1}. time.`;
    const reviewed = shown(milo, remark);
    const decided = { version: 2, decision: 'accepted', remark };
    reviews.push(
      (await Promise.all([reviewed, post(sanna, `/api/episodes/${id}/reviews`, decided)])).reduce((a, b) => a - b),
    );
  }
  report('from an answer to the screen of the supervisor', answers);
  report('from a review to the screen of the technician', reviews);
  await nuvek.stop();
  await dropDatabase(database);
});

/** Goes to an episode as a link within the page does. */
async function opened(page: Page, url: string, id: string) {
  if (!page.url().startsWith(`${url}/signals/`)) await page.goto(`${url}/signals/${id}`);
  await page.evaluate((path) => {
    history.pushState({}, '', path);
    dispatchEvent(new PopStateEvent('popstate'));
  }, `/signals/${id}`);
  await page.getByText('Open', { exact: true }).first().waitFor();
  await page.getByRole('group', { name: /Control chart/ }).waitFor();
}

/** When a text is in the frame that the page shows. */
function shown(page: Page, text: string): Promise<number> {
  return page.evaluate(
    (text) =>
      new Promise<number>((resolve) => {
        const look = () =>
          document.querySelector('main')?.textContent.includes(text)
            ? resolve(Date.now())
            : requestAnimationFrame(look);
        requestAnimationFrame(look);
      }),
    text,
  );
}
