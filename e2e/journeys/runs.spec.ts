import { barriers } from '../support/barriers';
import { expect, signedIn, test } from '../support/test';

test('a run is acted on, marked as reviewed, and found again among those reviewed before', async ({
  browser,
  nuvek,
}) => {
  const lotta = await signedIn(browser, nuvek.url, 'lotta');
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  await sanna.getByRole('navigation').getByRole('link', { name: 'Lab' }).click();
  await sanna.getByRole('link', { name: 'Runs to review' }).click();
  const waiting = sanna.getByRole('region').filter({ has: sanna.getByRole('button', { name: /as reviewed$/ }) });
  await expect(waiting.first()).toBeVisible();
  expect(await barriers(sanna)).toEqual([]);
  const run = (await waiting.first().getAttribute('aria-label')) ?? '';
  const card = sanna.getByRole('region', { name: run, exact: true });

  await lotta.goto(
    (await card
      .getByRole('link')
      .first()
      .evaluate((link) => (link as HTMLAnchorElement).href)) ?? '',
  );
  const actions = lotta.getByRole('region', { name: 'Actions' });
  await actions.getByLabel('What was done about it').fill('Pipette P-2 serviced.');
  await actions.getByRole('button', { name: 'Write it down' }).click();
  await expect(actions.getByText('the whole run, Lotta Labcoat', { exact: false })).toBeVisible();
  await expect(lotta.getByRole('button', { name: /as reviewed$/ })).toHaveCount(0);
  await expect(card.getByText('Pipette P-2 serviced.')).toBeVisible();

  await card.getByLabel('Remark, if there is one').fill('Seen with Lotta.');
  await card.getByRole('button', { name: /as reviewed$/ }).click();
  await expect(card).toHaveCount(0);
  await sanna.getByRole('button', { name: 'Reviewed before' }).click();
  await expect(card.getByText(/reviewed by Sanna Samplethorpe, .*: Seen with Lotta\./)).toBeVisible();

  // What is done about it afterwards has not been seen: it waits again.
  await actions.getByLabel('What was done about it').fill('Control lot changed.');
  await actions.getByRole('button', { name: 'Write it down' }).click();
  await expect(card).toHaveCount(0);
  await sanna.getByRole('button', { name: 'To review', exact: true }).click();
  await expect(card.getByText('Control lot changed.')).toBeVisible();
});

test('runs are marked as reviewed by one key each, and the accepted ones at once', async ({ browser, nuvek }) => {
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  await sanna.goto(`${nuvek.url}/lab/review`);
  const marks = sanna.getByRole('button', { name: /^Mark run .* as reviewed$/ });
  await expect(marks.first()).toBeFocused();
  const before = await marks.count();
  const first = (await marks.first().getAttribute('aria-label')) ?? '';
  await sanna.keyboard.press('m');
  await expect(sanna.getByRole('button', { name: first, exact: true })).toHaveCount(0);
  await expect(marks).toHaveCount(before - 1);
  await expect(marks.first()).toBeFocused();
  await sanna.keyboard.press('l');
  await expect(marks.nth(1)).toBeFocused();

  await sanna.getByRole('button', { name: /^Mark the \d+ accepted ones/ }).click();
  const many = sanna.getByRole('region', { name: 'Accepted by rule, and waiting for a review' });
  const listed = await many.getByRole('listitem').count();
  expect(listed).toBeGreaterThan(1);
  await many.getByRole('button', { name: `Mark ${listed} as reviewed` }).click();
  await expect(marks).toHaveCount(before - 1 - listed);
  await sanna.getByRole('button', { name: 'Reviewed before' }).click();
  await expect(sanna.getByText(/reviewed by Sanna Samplethorpe/)).toHaveCount(listed + 1);
});
