import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { pagesOf } from '../support/pdf';
import { expect, signedIn, signIn, test } from '../support/test';

const ideas = (page: Page) => page.getByRole('region', { name: 'Ideas' });

/** Texts of the list from top to bottom, those below set in by a dash a level. */
const outline = (page: Page) =>
  ideas(page)
    .getByRole('textbox')
    .evaluateAll((fields) =>
      fields.map((field) => {
        const level = Number.parseInt(getComputedStyle(field.closest('li') as Element).paddingLeft, 10) / 26;
        return '-'.repeat(level) + (field as HTMLInputElement).value;
      }),
    );

async function kept(page: Page): Promise<void> {
  await expect(page.getByText('All is kept.')).toBeVisible();
}

test('a cause tree is started from a kind of defect and typed like a list, by keyboard alone', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'egon');
  await page.goto(`${nuvek.url}/studies`);
  await page.getByRole('link', { name: 'Cosmetic defects, week by week' }).click();
  await page
    .getByRole('table', { name: 'Defects by kind' })
    .getByRole('row')
    .nth(1)
    .getByRole('link', { name: 'Why?' })
    .click();
  await page.getByRole('button', { name: 'Start', exact: true }).click();
  await expect(page.getByLabel('What is wrong')).toHaveValue(/Cartridge C-20/);
  await expect(page.getByLabel('How much of the whole')).toHaveValue(/of .* defects, .* %/);

  await ideas(page).getByRole('textbox', { name: 'Branch Machine' }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type('Nozzle worn');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Since spring');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Wrong nozzle fitted');
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Backspace');
  await page.keyboard.press('Alt+ArrowUp');
  await page.keyboard.press('Alt+4');
  await kept(page);
  const typed = ['Machine', '-Wrong nozzle fitted', '-Nozzle worn', '--Since spring', 'Material'];
  expect((await outline(page)).slice(0, 5)).toEqual(typed);
  await page.reload();
  await expect(ideas(page).getByRole('img', { name: 'Found true' })).toBeVisible();
  expect((await outline(page)).slice(0, 5)).toEqual(typed);
  expect(await barriers(page)).toEqual([]);

  // More is said of it: who finds out, what was seen, what is done; and it goes into the catalogue.
  await ideas(page)
    .getByRole('textbox', { name: /^Wrong nozzle fitted/ })
    .focus();
  const details = page.getByRole('region', { name: 'About this idea' });
  await details.getByLabel('What it shows').fill('Stains began with the change');
  await details.getByLabel('Link from this site').fill('https://elsewhere.example/x');
  await expect(details.getByRole('region', { name: 'Evidence' }).getByRole('button', { name: 'Add' })).toBeDisabled();
  await details.getByLabel('Link from this site').fill(`${nuvek.url}/studies?search=stain`);
  await details.getByRole('region', { name: 'Evidence' }).getByRole('button', { name: 'Add' }).click();
  await details.getByLabel('Action', { exact: true }).fill('Fit the nozzle of the drawing');
  await details.getByLabel('Action', { exact: true }).press('Enter');
  await expect(details.getByText('Fit the nozzle of the drawing')).toBeVisible();
  await kept(page);
  const catalogue = details.getByRole('region', { name: 'Into the catalogue of causes' });
  await catalogue.getByRole('button', { name: 'Add' }).click();
  await expect(details.getByText('It is in the catalogue of causes.')).toBeVisible();
  const named = await query(
    nuvek.database,
    "select 1 from cause where name = 'Wrong nozzle fitted' and state = 'in_use'",
  );
  expect(named).toHaveLength(1);

  const paper = (await pagesOf(await page.pdf({ format: 'A4' }))).join(' ');
  expect(paper).toContain('Wrong nozzle fitted');
  expect(paper).toContain('Fit the nozzle of the drawing');
  expect(paper).not.toContain('takes out an empty one');
});

test('two people fill in one tree, and see what the other does', async ({ browser, nuvek }) => {
  const egon = await signedIn(browser, nuvek.url, 'egon');
  await egon.goto(`${nuvek.url}/cause-trees/new`);
  await egon.getByLabel('The problem, in a few words').fill('Two at once');
  await egon.getByRole('button', { name: 'Start', exact: true }).click();
  await expect(ideas(egon)).toBeVisible();
  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  await tilda.goto(egon.url());

  await ideas(egon).getByRole('textbox', { name: 'Branch Method' }).press('Enter');
  await egon.keyboard.type('Poured too cold');
  await expect(ideas(tilda).getByRole('textbox', { name: /^Poured too cold/ })).toHaveValue('Poured too cold');
  await ideas(tilda)
    .getByRole('textbox', { name: /^Poured too cold/ })
    .press('Enter');
  await tilda.keyboard.type('Stirred too short');
  await expect(ideas(egon).getByRole('textbox', { name: /^Stirred too short/ })).toBeVisible();
  // What one is typing is not torn away by what the other does.
  await kept(egon);

  // Without a network both change the same idea; nothing is overwritten unseen.
  await tilda.context().setOffline(true);
  await ideas(tilda)
    .getByRole('textbox', { name: /^Poured too cold/ })
    .fill('Poured at 12 degrees');
  await expect(tilda.getByText(/^Not kept yet/)).toBeVisible();
  await ideas(egon)
    .getByRole('textbox', { name: /^Poured too cold/ })
    .fill('Poured too cold in winter');
  await kept(egon);
  await tilda.context().setOffline(false);
  await expect(tilda.getByText(/Egon Examplar changed this meanwhile to “Poured too cold in winter”/)).toBeVisible();
  await tilda.getByRole('button', { name: 'Keep mine' }).click();
  await expect(ideas(egon).getByRole('textbox', { name: /^Poured at 12 degrees/ })).toBeVisible();
  await kept(tilda);

  // A technician says what it is, not what the problem was; a reader of other areas sees nothing of it.
  await expect(tilda.getByLabel('What is wrong')).toHaveCount(0);
  await expect(tilda.getByText('What is wrong')).toBeVisible();
  const rita = await (await browser.newContext()).newPage();
  await rita.goto(nuvek.url);
  await signIn(rita, 'rita');
  await expect(rita.getByRole('heading', { name: 'Charts', level: 1 })).toBeVisible();
  const answer = await rita.request.get(egon.url().replace('/cause-trees/', '/api/cause-trees/'));
  expect(answer.status()).toBe(404);
});

test('a finished tree is on the demonstration site, is drawn, and is copied for the next team', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'egon', { viewport: { width: 390, height: 844 } });
  await page.goto(`${nuvek.url}/cause-trees`);
  await page.getByRole('link', { name: 'Rim cracks after firing' }).click();
  await page.getByRole('button', { name: 'Draw it' }).click();
  const tree = page.getByRole('region', { name: 'The tree' });
  await expect(tree.getByText('Burner 3 fires hotter than the others')).toBeVisible();
  await expect(tree).toContainText(/11 ideas, 2 found true/);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  expect(await barriers(page)).toEqual([]);
  await page.getByRole('button', { name: 'Copy for the next team' }).click();
  await expect(page.getByRole('heading', { name: 'Rim cracks after firing, again' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'The tree it was copied from' })).toBeVisible();
});
