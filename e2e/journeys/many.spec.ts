import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

test('many charts at once: the worst first, narrowed, pinned for oneself, over one time, one click to the large one', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  await page.getByRole('link', { name: 'Charts' }).click();
  const cards = page.getByRole('article');
  const [{ charted } = { charted: '0' }] = await query<{ charted: string }>(
    nuvek.database,
    `select count(*) as charted from characteristic c
     where not hidden and not exists (select from level where characteristic_id = c.id and took_over_at is not null)`,
  );
  await expect(cards).toHaveCount(Number(charted));
  // Those with open episodes come before all others.
  const open = await query<{ name: string }>(
    nuvek.database,
    `select distinct c.id, c.name from characteristic c join episode e on e.characteristic_id = c.id
     where e.state in ('open', 'sent_back') and not e.gone`,
  );
  const texts = await cards.allTextContents();
  expect(texts.slice(0, open.length).every((text) => /open episode/.test(text))).toBe(true);
  expect(texts.slice(open.length).some((text) => /open episode/.test(text))).toBe(false);

  // The newest point is the one that the analysis of its readings gives.
  const [wall] = await query<{ id: string; readings: number[] }>(
    nuvek.database,
    `select c.id, s.readings from characteristic c join station t on t.id = c.station_id
     join lateral (select readings from sample where characteristic_id = c.id and not gap
                   order by taken_at desc, number desc limit 1) s on true
     where c.name = 'Wall thickness' and t.name = 'Casting line 1'`,
  );
  const answer = await page.request.post(`${nuvek.url}/api/analyze`, {
    headers: { origin: nuvek.url },
    data: {
      task: 'chart',
      chart: 'xbar_r',
      points: [{ values: wall?.readings }],
      limits: [{ basis: 'given', center: 6, sigma: 1 }],
    },
  });
  const analysed = (await answer.json()) as { panels: { points: { value: number }[] }[] };
  const newest = analysed.panels[0]?.points[0]?.value.toFixed(3);
  const card = cards.filter({ hasText: /Wall thickness.*Casting line 1/ });
  await expect(card).toContainText(`${newest} mm`);
  await expect(card.getByRole('img')).toHaveAttribute('aria-label', new RegExp(`newest ${newest}$`));

  await card.getByRole('button', { name: 'Pin Wall thickness, Casting line 1' }).click();
  await expect(card.getByRole('button', { pressed: true })).toBeVisible();
  await page.getByRole('button', { name: 'My pinned ones' }).click();
  await expect(cards).toHaveCount(1);
  // Mine are mine alone.
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  await sanna.goto(`${nuvek.url}/charts?pinned=1`);
  await expect(sanna.getByText(/None of your pinned charts is here/)).toBeVisible();
  await page.getByRole('button', { name: 'My pinned ones' }).click();

  const pick = async (field: string, option: string) => {
    await page.getByRole('combobox', { name: field }).click();
    await page.getByRole('option', { name: option }).click();
  };
  await pick('Station', 'Kiln');
  await expect(page).toHaveURL(/station=Kiln/);
  const ofKiln = await cards.count();
  expect(ofKiln).toBeGreaterThan(0);
  for (const text of await cards.allTextContents()) expect(text).toContain('Kiln');
  await pick('Points', 'The same week of all');
  await expect(page).toHaveURL(/stretch=week/);
  await expect(cards).toHaveCount(ofKiln);
  await page.reload();
  await expect(cards).toHaveCount(ofKiln);
  expect(await barriers(page)).toEqual([]);
  await cards.first().getByRole('link').click();
  await expect(page.getByRole('group', { name: /Control chart of/ })).toBeVisible();
});

test('a small chart goes on with what is saved elsewhere', async ({ browser, nuvek }) => {
  const watching = await signedIn(browser, nuvek.url, 'sanna');
  await watching.goto(`${nuvek.url}/charts?find=Viscosity`);
  const card = watching.getByRole('article');
  await expect(card).toHaveCount(1);
  const [found] = await query<{ id: string }>(nuvek.database, `select id from characteristic where name = 'Viscosity'`);
  const milo = await signedIn(browser, nuvek.url, 'milo');
  const saved = await milo.request.post(`${nuvek.url}/api/characteristics/${found?.id}/samples`, {
    headers: { origin: nuvek.url },
    data: { device: crypto.randomUUID(), entry: crypto.randomUUID(), readings: ['333'], confirmed: true },
  });
  expect(saved.status()).toBe(201);
  await expect(card).toContainText('333.0 mPa·s');
});

test('on a phone every place is in reach, nothing is cut off, and a chart is read', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'sanna', { viewport: { width: 390, height: 844 }, hasTouch: true });
  const fits = async (what: string) => {
    const wide = await page.evaluate(() => document.documentElement.scrollWidth);
    expect(wide, what).toBeLessThanOrEqual(390);
  };
  for (const place of ['Rounds', 'Charts', 'Signals', 'Lab']) {
    await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: place }).tap();
    await expect(page).toHaveURL(new RegExp(`/${place.toLowerCase()}`));
    await page.getByRole('heading', { level: 1 }).first().waitFor();
    await fits(place);
  }
  for (const place of ['Handover', 'Reports', 'Trail']) {
    await page.getByRole('button', { name: 'More' }).tap();
    await page.getByRole('menuitem', { name: place }).tap();
    await page.getByRole('heading', { level: 1 }).first().waitFor();
    await fits(place);
  }
  await page.goto(`${nuvek.url}/charts?find=Peak`);
  await page.getByRole('article').getByRole('link').tap();
  const chart = page.getByRole('group', { name: /Control chart of Peak temperature/ });
  await chart.waitFor();
  await fits('a chart');
  const box = await chart.boundingBox();
  await page.touchscreen.tap((box?.x ?? 0) + 150, (box?.y ?? 0) + 200);
  await expect(page.getByRole('region', { name: /^Sample \d+$/ })).toBeVisible();
  expect(await barriers(page)).toEqual([]);
});
