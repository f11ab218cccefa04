import type { Browser, Page } from '@playwright/test';
import { longHistory, moreCharts } from '../support/history';
import { demoDatabase, dropDatabase, Nuvek, query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';
import { report } from './report';

const TRIES = 15;
const CHARTS = 40;

/** Goes to an address as a link within the page does, and tells how long until `shown` is in a frame that was painted. */
async function timed(page: Page, path: string, shown: string): Promise<number> {
  return page.evaluate(
    ([path, shown]) =>
      new Promise<number>((resolve) => {
        const started = performance.now();
        history.pushState({}, '', path);
        dispatchEvent(new PopStateEvent('popstate'));
        const look = () => {
          if (document.querySelector(shown)) requestAnimationFrame(() => resolve(performance.now() - started));
          else requestAnimationFrame(look);
        };
        requestAnimationFrame(look);
      }),
    [path, shown] as const,
  );
}

/** Loads the page anew, with nothing of what was seen kept on the device. */
async function forgetful(page: Page) {
  await page.evaluate(async () => {
    for (const { name } of await indexedDB.databases()) if (name) indexedDB.deleteDatabase(name);
  });
  await page.reload();
  await page.getByRole('heading', { level: 1 }).waitFor();
}

const chartOf = (points: number) => `svg[aria-label*="${points} points"] path[stroke-width]`;

/** From the click to the painted chart; zoom to detail; panning; many small charts. */
test('reading charts', async ({ browser }) => {
  test.setTimeout(900_000);
  const database = await demoDatabase();
  const id = await longHistory(database, 'Viscosity', 100_000);
  await moreCharts(database, CHARTS);
  const nuvek = await Nuvek.start(database);
  const page = await signedIn(browser, nuvek.url, 'sanna');
  for (const [points, last, bytes] of [
    [500, '500', true],
    [2000, '2000', true],
    [100_000, 'all', true],
  ] as const) {
    const times: number[] = [];
    for (let i = 0; i < TRIES; i++) {
      await timed(page, '/trail', 'h1');
      await forgetful(page);
      times.push(await timed(page, `/charts/${id}?last=${last}`, chartOf(points)));
    }
    report(`${points} points painted after the click`, times);
    if (bytes) {
      const answer = await page.request.get(
        `${nuvek.url}/api/characteristics/${id}/chart?last=${last === 'all' ? 100_000 : last}`,
      );
      const [plain, packed] = [(await answer.body()).length, Number(answer.headers()['content-length'] ?? 0)];
      console.log(`  sent: ${plain} bytes${packed > 0 ? `, packed ${packed}` : ''}`);
    }
  }

  // From a hundred thousand to some hundreds, until each of them is there.
  const closer: number[] = [];
  await timed(page, `/charts/${id}?last=all`, chartOf(100_000));
  await page.getByRole('group', { name: /Control chart/ }).focus();
  for (let k = 0; k < 12; k++) await page.keyboard.press('+');
  await page.waitForTimeout(1500);
  for (let i = 0; i < TRIES; i++) {
    const came = page.waitForResponse((response) => /chart\?from=/.test(response.url()));
    const started = Date.now();
    await page.keyboard.press('PageUp');
    await came;
    await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
    closer.push(Date.now() - started);
    await page.waitForTimeout(700);
  }
  report('a closer look at 100000 points until each is there', closer);

  // Frames while 2000 points, all of them in sight but a few, are dragged along.
  await timed(page, `/charts/${id}?last=2000`, chartOf(2000));
  await page.getByRole('group', { name: /Control chart/ }).focus();
  await page.keyboard.press('+');
  await page.waitForTimeout(600);
  const frames = await page.evaluate(async () => {
    const svg = document.querySelector('svg[aria-label*="2000 points"]');
    if (!svg) throw new Error('no chart');
    const box = svg.getBoundingClientRect();
    const mouse = (type: string, x: number, target: EventTarget) =>
      target.dispatchEvent(
        new MouseEvent(type, {
          clientX: x,
          clientY: box.top + 200,
          bubbles: true,
          cancelable: true,
          view: window,
          button: 0,
        }),
      );
    const start = box.left + box.width / 2;
    mouse('mousedown', start, svg);
    const times: number[] = [];
    for (let i = 0; i < 180; i++) {
      times.push(await new Promise<number>((done) => requestAnimationFrame(done)));
      mouse('mousemove', start + 150 * Math.sin(i / 10), window);
    }
    mouse('mouseup', start, window);
    return times;
  });
  const gaps = frames.slice(1).map((time, i) => time - (frames[i] ?? 0));
  const seconds = ((frames[frames.length - 1] ?? 0) - (frames[0] ?? 0)) / 1000;
  console.log(`panning 2000 points: ${(gaps.length / seconds).toFixed(0)} frames a second`);
  report('  between frames', gaps);

  const many: number[] = [];
  await page.goto(`${nuvek.url}/charts`);
  await page.getByRole('article').first().waitFor();
  const charts = await page.getByRole('article').count();
  for (let i = 0; i < TRIES; i++) {
    await timed(page, '/trail', 'h1');
    await forgetful(page);
    many.push(await timed(page, '/charts', `article:nth-child(${charts}) svg path[stroke-width="1.1"]`));
  }
  report(`${charts} small charts, one of them of a long history`, many);
  await nuvek.stop();
  await dropDatabase(database);
});

/** How often devices send, in ms, and how many samples at once: five hundred a second. */
const SENDS_EVERY = 100;
const SAMPLES_AT_ONCE = 50;

/** Sends what was measured before once more, until it is told to stop. */
async function devicesSend(browser: Browser, nuvek: Nuvek, stop: AbortSignal): Promise<void> {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  const singles = await query<{ id: string; readings: number[]; station: string }>(
    nuvek.database,
    `select c.id, c.station_id as station, array(select readings[1] from sample where characteristic_id = c.id and not gap
         order by taken_at desc limit 50) as readings
     from characteristic c where chart = 'i_mr' and name <> 'Viscosity' and not exists (select from level where characteristic_id = c.id) limit 5`,
  );
  const made = await egon.request.post(`${nuvek.url}/api/plan/devices`, {
    headers: { origin: nuvek.url },
    data: {
      name: 'All of the hall',
      stations: [...new Set(singles.map((it) => it.station))],
      link: { kind: 'ingest' },
    },
  });
  expect(made.status(), await made.text()).toBe(201);
  const { token } = (await made.json()) as { token: string };
  for (let sent = 0; !stop.aborted; sent += 1) {
    const samples = Array.from({ length: SAMPLES_AT_ONCE }, (_, i) => {
      const one = singles[i % singles.length];
      const reading = one?.readings[(sent + i) % one.readings.length];
      return { entry: crypto.randomUUID(), characteristic: one?.id, readings: [reading] };
    });
    const began = performance.now();
    const answer = await fetch(`${nuvek.url}/api/ingest`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
      body: JSON.stringify({ samples }),
    });
    expect(await answer.json()).toMatchObject({ saved: SAMPLES_AT_ONCE });
    await new Promise((done) => setTimeout(done, Math.max(0, SENDS_EVERY - (performance.now() - began))));
  }
}

/** From a saved sample to its point on other screens, 200 times: alone, with fifty screens open, beside devices that send. */
test('a saved sample on other screens', async ({ browser }) => {
  test.setTimeout(900_000);
  const database = await demoDatabase();
  const [found] = await query<{ id: string }>(
    database,
    `select id from characteristic where name = 'Viscosity' limit 1`,
  );
  const id = found?.id ?? '';
  const nuvek = await Nuvek.start(database);
  const milo = await signedIn(browser, nuvek.url, 'milo');
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  await sanna.goto(`${nuvek.url}/charts/${id}?last=200`);
  await sanna.getByRole('group', { name: /Control chart/ }).waitFor();
  const cookie = (await sanna.context().cookies()).map(({ name, value }) => `${name}=${value}`).join('; ');
  for (const [others, send] of [
    [0, false],
    [48, false],
    [48, true],
  ] as const) {
    const stop = new AbortController();
    const sending = send ? devicesSend(browser, nuvek, stop.signal) : Promise.resolve();
    const stream = async () => {
      const answer = await fetch(`${nuvek.url}/api/live`, { headers: { cookie }, signal: stop.signal });
      const reader = answer.body?.getReader();
      while (reader && !(await reader.read()).done);
    };
    // Each of them ends with an error when it is told to stop.
    const streams = Promise.allSettled(Array.from({ length: others }, stream));
    const times: number[] = [];
    for (let i = 0; i < 200; i++) {
      const reading = 320 + (i % 13);
      const number = await sanna.evaluate(
        () => Number(/(\d+) samples in all/.exec(document.body.textContent ?? '')?.[1]) + 1,
      );
      const seen = sanna.evaluate(
        (total) =>
          new Promise<number>((resolve) => {
            const look = () =>
              document.querySelector('main')?.textContent.includes(`${total} samples in all`)
                ? resolve(Date.now())
                : requestAnimationFrame(look);
            requestAnimationFrame(look);
          }),
        number,
      );
      const started = Date.now();
      const saved = await milo.request.post(`${nuvek.url}/api/characteristics/${id}/samples`, {
        headers: { origin: nuvek.url },
        data: { device: crypto.randomUUID(), entry: crypto.randomUUID(), readings: [String(reading)], confirmed: true },
      });
      expect(saved.status()).toBe(201);
      times.push((await seen) - started);
    }
    report(
      `a saved sample on another screen, ${others + 2} open${send ? ', 500 samples of devices a second' : ''}`,
      times,
    );
    stop.abort();
    await Promise.all([sending, streams]);
  }
  await nuvek.stop();
  await dropDatabase(database);
});
