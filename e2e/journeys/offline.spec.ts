import type { Page } from '@playwright/test';
import { query } from '../support/nuvek';
import { expect, openEntry, signedIn, signIn, test } from '../support/test';

test.use({ serviceWorkers: 'allow' });

/** A round was looked at once with the network: the page and every entry on it are on the device. */
async function installed(page: Page) {
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready;
  });
  const links = await page.locator('a[data-state]').evaluateAll((all) => all.map((a) => a.getAttribute('href') ?? ''));
  const entries = links.flatMap((href) => href.split('/rounds/').slice(1));
  expect(entries.length).toBeGreaterThan(10);
  // What they show is loaded one after another.
  await expect
    .poll(async () => {
      const kept = await page.evaluate(
        () =>
          new Promise<string[]>((resolve) => {
            const open = indexedDB.open('nuvek');
            open.onsuccess = () => {
              const keys = open.result.transaction('seen').objectStore('seen').getAllKeys();
              keys.onsuccess = () => resolve(keys.result.map(String));
            };
          }),
      );
      return entries.filter((id) => !kept.some((key) => key.includes(id)));
    })
    .toEqual([]);
}

interface Kept {
  name: string;
  readings: number[] | null;
  skipped_because: string | null;
  waited: boolean;
}

test('without a network the application opens, a round is walked, and all goes through in order', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await installed(page);
  await nuvek.stop();
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Rounds', level: 1 })).toBeVisible();
  await expect(page.getByText(/The server cannot be reached/)).toBeVisible();

  // A characteristic whose entry was never opened with the network.
  await openEntry(page, /Burst pressure/);
  await expect(page.getByText(/Last sample 18/)).toBeVisible();
  await page.keyboard.type('20.1');
  await page.keyboard.press('Enter');
  await page.keyboard.type('20.3');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/goes through by itself/)).toBeVisible();
  await page.getByRole('link', { name: 'Rounds' }).click();
  await expect(page.getByRole('link', { name: /Burst pressure.*entered, waits on this device/ })).toBeVisible();

  await openEntry(page, /Viscosity/);
  await page.getByRole('button', { name: 'Skip this sample …' }).click();
  await page.keyboard.type('No slip today');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Tell what happened at Casting line 1' }).click();
  await page.getByRole('button', { name: 'Tool change' }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);

  // The laboratory was not opened with the network either.
  await page.getByRole('link', { name: 'Lab' }).click();
  await page.getByRole('textbox', { name: 'Conductivity, standard' }).fill('1413');
  await page.getByRole('button', { name: 'Save run' }).click();
  await expect(page.getByText('The run is kept on this device', { exact: false })).toBeVisible();
  await page.getByRole('link', { name: 'Rounds' }).click();

  // A half-typed sample, and the tab is closed.
  await openEntry(page, /Burst pressure/);
  await page.keyboard.type('19.9');
  const again = await page.context().newPage();
  await page.close();
  await again.goto(`${nuvek.url}/rounds`);
  await again.getByRole('link', { name: '4 wait on this device' }).click();
  await expect(again.getByRole('region', { name: /Burst pressure: 20.1 20.3/ })).toContainText('by Tilda');
  await expect(again.getByRole('region', { name: /Viscosity: No slip today/ })).toBeVisible();

  await nuvek.start();
  await expect(again.getByText('Nothing waits. All that was entered here is on the server.')).toBeVisible({
    timeout: 20_000,
  });
  const kept = await query<Kept>(
    nuvek.database,
    `select c.name, s.readings, s.skipped_because, s.arrived_at - s.taken_at > interval '1 second' as waited
     from sample s join characteristic c on c.id = s.characteristic_id
     where s.arrived_at > now() - interval '5 minutes' order by s.arrived_at`,
  );
  expect(kept).toEqual([
    { name: 'Burst pressure', readings: [20.1, 20.3], skipped_because: null, waited: true },
    { name: 'Viscosity', readings: null, skipped_because: 'No slip today', waited: true },
    { name: 'Conductivity, standard', readings: [1413], skipped_because: null, waited: true },
  ]);
  const events = await query(nuvek.database, "select 1 from event where arrived_at > now() - interval '5 minutes'");
  expect(events).toHaveLength(1);

  await again.goto(`${nuvek.url}/rounds`);
  await openEntry(again, /Burst pressure/);
  await expect(again.getByLabel('Piece 1')).toHaveValue('19.9');
  // Both times stand on the point.
  await again.getByRole('link', { name: 'Open the whole chart' }).click();
  await again.getByRole('group', { name: /Control chart/ }).press('End');
  await expect(again.getByRole('region', { name: 'Sample 19' })).toContainText(/arrived/);
});

test('what the server does not take when it is back waits to be mended', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await installed(page);
  await nuvek.stop();
  await openEntry(page, /Burst pressure/);
  for (const reading of ['99', '20.3', '20.2', 'about 20']) {
    await page.keyboard.type(reading);
    await page.keyboard.press('Enter');
    if (reading === '20.3') await expect(page.getByText(/goes through by itself/)).toBeVisible();
  }
  await page.getByRole('link', { name: '2 wait on this device' }).click();
  await nuvek.start();
  await expect(page.getByText(/“about 20” is not a number/)).toBeVisible({ timeout: 20_000 });

  const unreadable = page.getByRole('region', { name: /20.2 about 20/ });
  // What is half typed there is not thrown away for it.
  await page.getByRole('link', { name: 'Rounds' }).click();
  await openEntry(page, /Burst pressure/);
  await page.keyboard.type('19');
  await page.getByRole('link', { name: '2 wait on this device' }).click();
  await unreadable.getByRole('button', { name: 'Type it again' }).click();
  await expect(unreadable).toContainText('Another is half typed there.');
  await unreadable.getByRole('link', { name: 'Save it or clear it first' }).click();
  await expect(page.getByLabel('Piece 1')).toHaveValue('19');
  await page.getByLabel('Piece 1').fill('');
  await page.getByRole('link', { name: '2 wait on this device' }).click();
  await unreadable.getByRole('button', { name: 'Type it again' }).click();
  await expect(page.getByLabel('Piece 1')).toHaveValue('20.2');
  await expect(page.getByText(/It counts as taken .* when it was first entered/)).toBeVisible();
  await page.getByLabel('Piece 2').fill('20');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Sample 19 is saved/)).toBeVisible();
  // It was taken when it was first entered, not when it was mended.
  const [mended] = await query<{ waited: boolean }>(
    nuvek.database,
    "select arrived_at - taken_at > interval '1 second' as waited from sample where readings[1] = 20.2 and arrived_at > now() - interval '5 minutes'",
  );
  expect(mended?.waited).toBe(true);

  await page.getByRole('link', { name: '1 waits on this device' }).click();
  await page.getByRole('button', { name: 'Give it up …' }).click();
  await page.getByRole('button', { name: 'Give it up for good' }).click();
  await expect(page.getByText('Nothing waits.', { exact: false })).toBeVisible();
});

test('nobody sends what another person entered', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await installed(page);
  await openEntry(page, /Burst pressure/);
  await page.route('**/samples', (route) => route.abort());
  await page.keyboard.type('20.1');
  await page.keyboard.press('Enter');
  await page.keyboard.type('20.3');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/goes through by itself/)).toBeVisible();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await page.unroute('**/samples');
  await page.getByRole('button', { name: 'Name and password' }).click();
  await signIn(page, 'milo');
  await page.getByRole('link', { name: '1 waits on this device' }).click();
  await expect(page.getByText(/It goes through when Tilda .* signs in on this device/)).toBeVisible();
  await page.waitForTimeout(4000);
  expect(
    await query(nuvek.database, "select 1 from sample where arrived_at > now() - interval '5 minutes'"),
  ).toHaveLength(0);
});
