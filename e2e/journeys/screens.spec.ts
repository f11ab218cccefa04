import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { longHistory } from '../support/history';
import { expect, openEntry, signedIn, test } from '../support/test';
import { wall } from '../support/wall';

const heightOf = async (page: Page, name: string) =>
  (await page.getByRole('button', { name, exact: true }).first().boundingBox())?.height ?? 0;

test('things stand compact at a desk and roomy by touch, or as somebody chose; entry is always roomy', async ({
  browser,
  nuvek,
}) => {
  const desk = await signedIn(browser, nuvek.url, 'milo');
  await desk.goto(`${nuvek.url}/me`);
  expect(await heightOf(desk, 'Sign out')).toBe(36);
  await desk.getByRole('combobox', { name: 'How close things stand' }).click();
  await desk.getByRole('option', { name: 'Roomy', exact: true }).click();
  await expect.poll(() => heightOf(desk, 'Sign out')).toBe(48);
  await desk.reload();
  await expect.poll(() => heightOf(desk, 'Sign out')).toBe(48);

  const tablet = await signedIn(browser, nuvek.url, 'milo', {
    viewport: { width: 820, height: 1180 },
    hasTouch: true,
    isMobile: true,
  });
  await tablet.goto(`${nuvek.url}/me`);
  await expect.poll(() => heightOf(tablet, 'Sign out')).toBe(48);
  await tablet.getByRole('combobox', { name: 'How close things stand' }).click();
  await tablet.getByRole('option', { name: 'Compact', exact: true }).click();
  await expect.poll(() => heightOf(tablet, 'Sign out')).toBe(36);
  for (const [name, targets] of [
    [/Pinholes/, 'main button'],
    [/Wall thickness.*C-20/, 'main .MuiOutlinedInput-root'],
  ] as const) {
    await tablet.goto(`${nuvek.url}/rounds`);
    await tablet.getByRole('link', { name }).click();
    await tablet.getByRole('group', { name: /Control chart/ }).waitFor();
    const found = await tablet.locator(targets).all();
    expect(found.length).toBeGreaterThan(0);
    for (const target of found) {
      const box = await target.boundingBox();
      if (box) expect(box.height, await target.innerText()).toBeGreaterThanOrEqual(48);
    }
  }
});

test('enlarged twofold, the newest points stay in sight beside what is typed', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'milo', { viewport: { width: 640, height: 400 } });
  await openEntry(page, /Burst pressure/);
  const inSight = async (box: { y: number; height: number } | null) =>
    box !== null && box.y >= 0 && box.y + box.height <= 400;
  for (const piece of [1, 2]) {
    await page.getByLabel(`Piece ${piece}`).fill('30.1');
    const pencil = page.getByTestId('pencil-mean');
    await expect(pencil).toBeVisible();
    expect(await inSight(await page.getByLabel(`Piece ${piece}`).boundingBox())).toBe(true);
    expect(await inSight(await pencil.boundingBox()), `typing piece ${piece}`).toBe(true);
  }
});

const SIZES = [
  { width: 390, height: 844 },
  { width: 768, height: 1024 },
  { width: 1280, height: 800 },
];

for (const theme of ['light', 'dark'] as const) {
  test(`the densest charts have no barriers that axe can find on any screen, and none is too wide, ${theme}`, async ({
    browser,
    nuvek,
  }) => {
    // Axe looks at thousands of marks, thirty times.
    test.setTimeout(480_000);
    const { id } = await wall(nuvek.database);
    const long = await longHistory(nuvek.database, 'Viscosity', 20_000);
    const page = await signedIn(browser, nuvek.url, 'sanna');
    if (theme === 'dark') await page.getByRole('button', { name: 'Switch to dark' }).click();
    const chart = page.getByRole('group', { name: /^Control chart/ }).first();
    for (const [path, ready] of [
      [`/charts/${id}?last=all`, chart],
      [`/charts/${long}?last=all`, chart],
      [`/charts/${id}?last=200&sample=1325&through=1339`, page.getByRole('list', { name: 'The samples' })],
      [`/charts/${id}/look?k=1.5&rules=nelson&last=2000`, chart],
      ['/charts', page.getByRole('article').first()],
    ] as const) {
      await page.setViewportSize({ width: 1280, height: 800 });
      await page.goto(`${nuvek.url}${path}`);
      await ready.waitFor();
      for (const size of SIZES) {
        await page.setViewportSize(size);
        expect(await barriers(page, theme), `${path} at ${size.width}`).toEqual([]);
        const wide = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
        expect(wide, `${path} at ${size.width}`).toBeLessThanOrEqual(0);
      }
    }
    // How wide things are is not of their colours.
    if (theme === 'dark') return;
    // Across, on a large screen, and on a wall.
    for (const size of [
      { width: 1180, height: 820 },
      { width: 1920, height: 1080 },
      { width: 3840, height: 2160 },
    ]) {
      await page.setViewportSize(size);
      for (const path of ['/rounds', '/charts', `/charts/${id}`, '/signals']) {
        await page.goto(`${nuvek.url}${path}`);
        await page.getByRole('heading', { level: 1 }).waitFor();
        const wide = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
        expect(wide, `${path} at ${size.width}`).toBeLessThanOrEqual(0);
      }
    }
  });
}
