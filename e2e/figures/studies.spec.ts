import { randomUUID } from 'node:crypto';
import { longCounts, longHistory } from '../support/history';
import { demoDatabase, dropDatabase, Nuvek, query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';
import { report } from './report';

const TRIES = 11;

/** A capability study of a hundred thousand values: answered by the server, and drawn. */
test('studies', async ({ browser }) => {
  test.setTimeout(600_000);
  const database = await demoDatabase();
  const id = await longHistory(database, 'Viscosity', 100_000);
  const nuvek = await Nuvek.start(database);
  try {
    const page = await signedIn(browser, nuvek.url, 'egon');
    const answers: number[] = [];
    for (let i = 0; i < TRIES; i++) {
      const started = performance.now();
      const answer = await page.request.post(`${nuvek.url}/api/studies/answer`, {
        headers: { origin: nuvek.url },
        data: { sort: 'capability', of: { characteristic: id } },
      });
      answers.push(performance.now() - started);
      expect(((await answer.json()) as { answer: { samples: number } }).answer.samples).toBeGreaterThan(100_000);
    }
    report('capability of 100 000 values, answered', answers);
    const drawn: number[] = [];
    for (let i = 0; i < TRIES; i++) {
      await page.goto(`${nuvek.url}/studies`);
      await page.getByRole('grid', { name: 'Studies' }).waitFor();
      // Another question each time, so that no answer is at hand.
      const path = `/studies/capability?of=${id}&bars=${10 + i}`;
      drawn.push(
        await page.evaluate(
          (path) =>
            new Promise<number>((resolve) => {
              const started = performance.now();
              history.pushState({}, '', path);
              dispatchEvent(new PopStateEvent('popstate'));
              const look = () => {
                if (document.querySelector('svg rect[role="button"]'))
                  requestAnimationFrame(() => resolve(performance.now() - started));
                else requestAnimationFrame(look);
              };
              requestAnimationFrame(look);
            }),
          path,
        ),
      );
    }
    report('the same, from the click to the painted bars', drawn);
  } finally {
    await nuvek.stop();
    await dropDatabase(database);
  }
});

/** Defects by kind over a million samples, all together and week by week. */
test('defects by kind', async ({ browser }) => {
  test.setTimeout(900_000);
  const database = await demoDatabase();
  const id = await longCounts(database, 'Cosmetic defects', 1_000_000);
  const nuvek = await Nuvek.start(database);
  try {
    const page = await signedIn(browser, nuvek.url, 'egon');
    for (const [name, more] of [
      ['defects by kind over 1 000 000 samples, answered', {}],
      ['the same, month by month', { split: { by: 'month' } }],
    ] as const) {
      const answers: number[] = [];
      for (let i = 0; i < TRIES; i++) {
        const started = performance.now();
        const answer = await page.request.post(`${nuvek.url}/api/studies/answer`, {
          headers: { origin: nuvek.url },
          data: { sort: 'defects', of: { characteristic: id }, ...more },
        });
        answers.push(performance.now() - started);
        const { totals } = ((await answer.json()) as { answer: { totals: { samples: number } } }).answer;
        expect(totals.samples).toBeGreaterThan(1_000_000);
      }
      report(name, answers);
    }
  } finally {
    await nuvek.stop();
    await dropDatabase(database);
  }
});

const SAVES = 200;

/** What the sums that are kept cost a save of a count, by turns with and without them. */
test('saving a count, with its sums and without', async ({ browser }) => {
  test.setTimeout(600_000);
  const database = await demoDatabase();
  const id = await longCounts(database, 'Cosmetic defects', 100_000);
  const [kind] = await query<{ kind: string }>(
    database,
    "select defect_kinds->0->>'id' as kind from characteristic where id = $1",
    [id],
  );
  const nuvek = await Nuvek.start(database);
  try {
    const page = await signedIn(browser, nuvek.url, 'tilda');
    const times: Record<'with' | 'without', number[]> = { with: [], without: [] };
    for (let i = 0; i < 2 * SAVES; i++) {
      const which = i % 2 === 0 ? 'with' : 'without';
      await query(database, `alter table sample ${which === 'with' ? 'enable' : 'disable'} trigger sample_counted`);
      const started = performance.now();
      const saved = await page.request.post(`${nuvek.url}/api/characteristics/${id}/samples`, {
        headers: { origin: nuvek.url },
        data: {
          device: randomUUID(),
          entry: randomUUID(),
          inspected: '60',
          defects: [{ kind: kind?.kind, count: 2 }],
          confirmed: true,
        },
      });
      times[which].push(performance.now() - started);
      expect(saved.status(), await saved.text()).toBe(201);
    }
    report('saving a count with its sums', times.with);
    report('without', times.without);
  } finally {
    await nuvek.stop();
    await dropDatabase(database);
  }
});
