import { expect, signedIn, signIn, test } from '../support/test';

test('wrong tries slow the next ones down, for this name only, and lock nobody out', async ({ page, nuvek }) => {
  await page.goto(nuvek.url);
  const statuses: number[] = [];
  while (statuses[statuses.length - 1] !== 429 && statuses.length < 30) {
    await page.getByLabel('Password').fill('');
    const answer = page.waitForResponse((response) => response.url().endsWith('/api/session'));
    await signIn(page, 'tilda', `guess ${statuses.length}`);
    statuses.push((await answer).status());
  }
  expect(statuses.slice(0, 5)).toEqual([401, 401, 401, 401, 401]);
  await expect(page.getByText(/Too many tries that did not fit. The next one is heard in \d+ s/)).toBeVisible();
  await signIn(page, 'milo');
  await expect(page.getByRole('heading', { name: 'Rounds', level: 1 })).toBeVisible();
  // Whoever knows the password waits half a minute at most.
  await page.getByRole('button', { name: 'Sign out' }).click();
  await page.getByRole('button', { name: 'Name and password' }).click();
  await expect(async () => {
    await signIn(page, 'tilda');
    await expect(page.getByRole('heading', { name: 'Rounds', level: 1 })).toBeVisible({ timeout: 2000 });
  }).toPass({ timeout: 60_000 });
});

test('a technician is refused where only others may go', async ({ browser, nuvek }) => {
  const page = await signedIn(browser, nuvek.url, 'tilda');
  await expect(page.getByRole('navigation').getByRole('link', { name: 'Trail' })).toHaveCount(0);
  await page.goto(`${nuvek.url}/trail`);
  await expect(page.getByText('Your role does not allow this.')).toBeVisible();
  const episodes: { id: string }[] = await (await page.request.get(`${nuvek.url}/api/episodes?state=answered`)).json();
  const review = await page.request.post(`${nuvek.url}/api/episodes/${episodes[0]?.id}/reviews`, {
    data: { version: 1, decision: 'accepted' },
  });
  expect(review.status()).toBe(403);
  expect((await review.json()).code).toBe('not_allowed');
  await page.goto(`${nuvek.url}/signals/${episodes[0]?.id}`);
  await expect(page.getByText('Waits for the supervisor.')).toBeVisible();
  await expect(page.getByRole('form', { name: 'Review' })).toHaveCount(0);
});

test('of two supervisors who decide at once the second is told and keeps what was typed', async ({
  browser,
  nuvek,
}) => {
  const one = await signedIn(browser, nuvek.url, 'sanna');
  const two = await signedIn(browser, nuvek.url, 'egon');
  const episodes: { id: string }[] = await (await one.request.get(`${nuvek.url}/api/episodes?state=answered`)).json();
  for (const page of [one, two]) await page.goto(`${nuvek.url}/signals/${episodes[0]?.id}`);
  await two.getByRole('button', { name: 'Send back' }).click();
  const question = two.getByRole('textbox', { name: 'Question' });
  await question.fill('Which rack?');
  await one.getByRole('button', { name: 'Accept' }).click();
  await expect(two.getByText(/Somebody acted on this episode first/)).toBeVisible();
  await expect(two.getByText('Accepted', { exact: true })).toBeVisible();
  await two.getByRole('button', { name: 'Send back' }).click();
  await expect(two.getByRole('alert').getByText(/Somebody changed this episode first/)).toBeVisible();
  await expect(question).toHaveValue('Which rack?');
  await two.getByRole('button', { name: 'Put it away' }).click();
  await expect(question).toHaveCount(0);
  await expect(two.getByText('Sent back')).toHaveCount(0);
});
