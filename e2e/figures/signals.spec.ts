import type { Page } from '@playwright/test';
import { signedIn, test } from '../support/test';
import { report } from './report';

/** Prints how long a screen of episodes takes from the click to the rows, and one episode to its sentence and chart. */
test('from click to episodes', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'sanna');
  const lists: number[] = [];
  const episodes: number[] = [];
  for (let i = 0; i < 20; i++) {
    await page.goto(`${nuvek.url}/signals`);
    await page.locator('.MuiDataGrid-row').first().waitFor();
    lists.push(await clicked(page, 'button[value="all"]', '.MuiDataGrid-row:nth-child(14)'));
    episodes.push(await clicked(page, '.MuiDataGrid-row a', 'a[href^="/charts/"]'));
  }
  report('click on All to its rows', lists);
  report('click on an episode to its sentence', episodes);
});

/** Milliseconds from a click to the frame after something is there that was not; the clock runs in the page. */
function clicked(page: Page, target: string, awaited: string): Promise<number> {
  return page.evaluate(
    ([target, awaited]) =>
      new Promise<number>((resolve) => {
        const started = performance.now();
        document.querySelector<HTMLElement>(target)?.click();
        const look = () =>
          document.querySelector(awaited) ? resolve(performance.now() - started) : requestAnimationFrame(look);
        requestAnimationFrame(look);
      }),
    [target, awaited] as const,
  );
}
