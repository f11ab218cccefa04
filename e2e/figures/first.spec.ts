import type { Page } from '@playwright/test';
import { signIn, test } from '../support/test';
import { report } from './report';

/** A network of 10 Mbit/s, as in a hall: bytes a second each way, and ms from here to there. */
const HALL = { offline: false, downloadThroughput: 1_250_000, uploadThroughput: 1_250_000, latency: 5 };

async function inTheHall(page: Page): Promise<void> {
  const session = await page.context().newCDPSession(page);
  await session.send('Network.enable');
  await session.send('Network.emulateNetworkConditions', HALL);
}

/** From the request until what is waited for is there, in ms of the page's own clock: who asks from outside asks by
 * and by. */
async function shown(page: Page, url: string, what: string): Promise<number> {
  await page.goto(url, { waitUntil: 'commit' });
  return page.evaluate(
    (what) =>
      new Promise<number>((resolve) => {
        // A window that has just been opened may not be asked for frames yet.
        const look = () => (document.querySelector(what) ? resolve(performance.now()) : setTimeout(look, 4));
        look();
      }),
    what,
  );
}

// A device that was here before has what it fetched ahead.
test.use({ serviceWorkers: 'allow' });

const SIGN_IN = 'button[type=submit]';
/** The round itself, with something that is due. */
const ROUND = 'main h1';

/** Prints how long the first page takes on a device that knows nothing, and on one that was here before. */
test('the first page over a network of 10 Mbit/s', async ({ browser, nuvek }) => {
  test.setTimeout(600_000);
  const [first, rounds, again]: [number[], number[], number[]] = [[], [], []];
  for (let i = 0; i < 11; i += 1) {
    const context = await browser.newContext();
    const page = await context.newPage();
    await inTheHall(page);
    first.push(await shown(page, nuvek.url, SIGN_IN));
    const sent = (await page.evaluate(() =>
      performance
        .getEntriesByType('resource')
        .reduce((sum, it) => sum + (it as PerformanceResourceTiming).transferSize, 0),
    )) as number;
    if (i === 0) console.log(`sent for the first page: ${(sent / 1000).toFixed(0)} kB`);
    await signIn(page, 'tilda');
    await page.getByRole('heading', { name: 'Rounds', level: 1 }).waitFor();
    // A tab of its own, signed in, that has not been here: what a bookmark on Rounds opens.
    const state = await context.storageState();
    await context.close();
    const fresh = await browser.newContext({ storageState: state });
    const bookmark = await fresh.newPage();
    await inTheHall(bookmark);
    rounds.push(await shown(bookmark, `${nuvek.url}/rounds`, ROUND));
    // Everything was fetched ahead and is kept; who comes again has left, and that page computes no more.
    await bookmark.evaluate(async () => void (await navigator.serviceWorker.ready));
    await bookmark.close();
    const second = await fresh.newPage();
    await inTheHall(second);
    again.push(await shown(second, `${nuvek.url}/rounds`, ROUND));
    await fresh.close();
  }
  report('the first page of a device that knows nothing', first);
  report('Rounds, of a device that knows nothing', rounds);
  report('Rounds, of a device that was here before', again);
});
