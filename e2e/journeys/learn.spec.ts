import { barriers } from '../support/barriers';
import { expect, signedIn, test } from '../support/test';

const day = (ago: number) => new Date(Date.now() - ago * 86_400_000).toISOString().slice(0, 10);

test('a period teaches which causes come back, and each figure opens the episodes behind it', async ({
  browser,
  nuvek,
}) => {
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  await sanna
    .getByRole('navigation')
    .getByRole('link', { name: /^Signals/ })
    .click();
  await sanna.getByRole('link', { name: 'Learn' }).click();
  await sanna.getByLabel('Before').waitFor();
  // Both before the page is drawn again: what was given first is not forgotten over the second.
  await sanna.evaluate(
    (days) => {
      const put = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set;
      document.querySelectorAll<HTMLInputElement>('input[type=date]').forEach((input, n) => {
        put?.call(input, days[n]);
        input.dispatchEvent(new Event('input', { bubbles: true }));
      });
    },
    [day(60), day(-1)],
  );
  const rows = sanna.getByRole('region', { name: 'By rule' }).getByRole('listitem');
  await expect(rows.first()).toBeVisible();
  await expect(sanna.getByText(/half within .*, nine of ten within/).first()).toBeVisible();
  expect(await barriers(sanna)).toEqual([]);
  const causes = sanna.getByRole('region', { name: 'Causes that come back' }).getByRole('listitem');
  const count = Number(/^\D*(\d+)/.exec((await causes.first().innerText()).replace(/\n/g, ' '))?.[1]);
  await causes.first().getByRole('link').click();
  await expect(sanna).toHaveURL(/\/signals\?.*cause=/);
  // An episode counts by its last answer; the list shows it with any.
  const found = sanna.getByRole('status').filter({ hasText: /^\d+/ });
  await expect(found).toBeVisible();
  const listed = Number(/\d+/.exec(await found.innerText())?.[0]);
  expect(listed).toBeGreaterThanOrEqual(count);
  await expect(sanna.getByRole('row').nth(1)).toBeVisible();
});
