import { barriers } from '../support/barriers';
import { expect, signedIn, signIn, test } from '../support/test';

test('everything that came in is listed, narrowed, and kept to what one may see', async ({ browser, nuvek }) => {
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  await sanna.goto(`${nuvek.url}/signals`);
  await sanna.getByRole('link', { name: 'Everything that came in' }).click();
  const list = sanna.getByRole('grid', { name: 'Everything that came in' });
  const rows = list.getByRole('row').filter({ hasNot: sanna.getByRole('columnheader') });
  await expect(rows.first()).toBeVisible();
  expect(await barriers(sanna)).toEqual([]);

  // What is flagged leads to its episode.
  await sanna.getByRole('combobox', { name: 'What became of it' }).click();
  await sanna.getByRole('option', { name: 'Flagged' }).click();
  await expect(sanna).toHaveURL(/became=flagged/);
  await expect(list.getByText('in control')).toHaveCount(0);
  await expect(rows.first().getByRole('link', { name: /Open|Answered|Reviewed|Found late|Sent back/ })).toBeVisible();
  await sanna.getByRole('combobox', { name: 'Floor or laboratory' }).click();
  await sanna.getByRole('option', { name: 'Laboratory' }).click();
  await rows
    .first()
    .getByRole('link', { name: /^Run \d+/ })
    .click();
  await expect(sanna.getByRole('heading', { name: /^Control run \d+|^Run \d+/ })).toBeVisible();
  await sanna.goBack();

  // What comes in shows by itself, the last first.
  await sanna.getByRole('button', { name: 'Show all' }).click();
  await expect(sanna).not.toHaveURL(/became/);
  const milo = await signedIn(browser, nuvek.url, 'milo');
  const rounds = (await (await milo.request.get(`${nuvek.url}/api/plan`)).json()) as {
    characteristics: { id: string; name: string }[];
  };
  const id = rounds.characteristics.find(({ name }) => name === 'Peak temperature')?.id ?? '';
  const skipped = await milo.request.post(`${nuvek.url}/api/characteristics/${id}/gaps`, {
    headers: { origin: nuvek.url },
    data: {
      device: '00000000-0000-4000-8000-000000000009',
      entry: crypto.randomUUID(),
      taken_at: new Date().toISOString(),
      because: 'Kiln door open',
    },
  });
  expect(skipped.status(), await skipped.text()).toBeLessThan(300);
  await expect(rows.first()).toContainText('skipped: Kiln door open');

  // A reader sees what came in at the areas given.
  const rita = await (await browser.newContext()).newPage();
  await rita.goto(`${nuvek.url}/signals/samples`);
  await signIn(rita, 'rita');
  const theirs = rita.getByRole('grid').getByRole('row').filter({ hasText: 'Kiln' });
  await expect(theirs.first()).toBeVisible();
  await expect(rita.getByRole('grid').getByText(/Casting line|Test bench|Leak test/)).toHaveCount(0);
});
