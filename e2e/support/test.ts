import { type Browser, type BrowserContextOptions, type Page, test as base } from '@playwright/test';
import { demoDatabase, dropDatabase, Nuvek } from './nuvek';

export const PASSWORD = 'tarn-valley';

export async function signIn(page: Page, login: string, password = PASSWORD): Promise<void> {
  await page.getByLabel('Name').fill(login);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
}

/** A page of its own browser context, on the Rounds: whoever opens it has signed in before. */
export async function signedIn(
  browser: Browser,
  url: string,
  login: string,
  device: BrowserContextOptions = {},
): Promise<Page> {
  const context = await browser.newContext(device);
  const answer = await context.request.post(`${url}/api/session`, { data: { login, password: PASSWORD } });
  if (!answer.ok()) throw new Error(`${login} is not signed in: ${answer.status()}`);
  const page = await context.newPage();
  await page.goto(url);
  await page.getByRole('heading', { name: 'Rounds', level: 1 }).waitFor();
  return page;
}

/** Opens the entry of a characteristic from the Rounds. */
export async function openEntry(page: Page, name: RegExp): Promise<void> {
  await page.getByRole('link', { name }).click();
  await page.getByRole('button', { name: 'Save sample' }).waitFor();
}

export const test = base.extend<{ nuvek: Nuvek }>({
  nuvek: async ({ browser }, use) => {
    const database = await demoDatabase();
    const nuvek = await Nuvek.start(database);
    await use(nuvek);
    // Pages that are left open would go on asking a server that is gone, journey after journey.
    await Promise.all(browser.contexts().map((context) => context.close()));
    await nuvek.stop();
    await dropDatabase(database);
  },
});

export { expect } from '@playwright/test';
