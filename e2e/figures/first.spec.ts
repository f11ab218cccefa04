import type { Locator, Page } from '@playwright/test';
import { signIn, test } from '../support/test';
import { report } from './report';

/** A network of 10 Mbit/s, as in a hall: bytes a second each way, and ms from here to there. */
const HALL = { offline: false, downloadThroughput: 1_250_000, uploadThroughput: 1_250_000, latency: 5 };

async function inTheHall(page: Page): Promise<void> {
  const session = await page.context().newCDPSession(page);
  await session.send('Network.enable');
  await session.send('Network.emulateNetworkConditions', HALL);
}

/** From the request until what is waited for is painted, in ms. */
async function painted(page: Page, url: string, what: (page: Page) => Locator): Promise<number> {
  const began = performance.now();
  await page.goto(url, { waitUntil: 'commit' });
  await what(page).waitFor();
  return performance.now() - began;
}

// A device that was here before has what it fetched ahead.
test.use({ serviceWorkers: 'allow' });

/** The round itself, with something that is due. */
const round = (page: Page) => page.getByRole('heading', { name: 'Rounds', level: 1 });

/** Prints how long the first page takes on a device that knows nothing, and on one that was here before. */
test('the first page over a network of 10 Mbit/s', async ({ browser, nuvek }) => {
  test.setTimeout(600_000);
  const [first, rounds, again]: [number[], number[], number[]] = [[], [], []];
  for (let i = 0; i < 11; i += 1) {
    const context = await browser.newContext();
    const page = await context.newPage();
    await inTheHall(page);
    first.push(await painted(page, nuvek.url, (page) => page.getByRole('button', { name: 'Sign in' })));
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
    const fresh = await browser.newContext({ storageState: state });
    const bookmark = await fresh.newPage();
    await inTheHall(bookmark);
    rounds.push(await painted(bookmark, `${nuvek.url}/rounds`, round));
    // Everything was fetched ahead and is kept.
    await bookmark.evaluate(async () => void (await navigator.serviceWorker.ready));
    const second = await fresh.newPage();
    await inTheHall(second);
    again.push(await painted(second, `${nuvek.url}/rounds`, round));
    await fresh.close();
    await context.close();
  }
  report('the first page of a device that knows nothing', first);
  report('Rounds, of a device that knows nothing', rounds);
  report('Rounds, of a device that was here before', again);
});
