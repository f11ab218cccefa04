import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';
import { wall } from '../support/wall';

test('several points are chosen by keys, pointer and touch, taken along, and set aside together', async ({
  browser,
  nuvek,
}) => {
  const { id } = await wall(nuvek.database);
  const numbers = (
    await query<{ number: string }>(
      nuvek.database,
      'select number from sample where characteristic_id = $1 order by taken_at desc, number desc limit 5',
      [id],
    )
  ).map(({ number }) => Number(number));
  const page = await signedIn(browser, nuvek.url, 'sanna');
  await page.goto(`${nuvek.url}/charts/${id}?last=30`);
  const chart = page.getByRole('group', { name: /Control chart of Wall thickness/ });
  await chart.focus();
  for (const key of ['End', 'Shift+ArrowLeft', 'Shift+ArrowLeft', 'Shift+ArrowLeft']) await page.keyboard.press(key);
  const [newest, , , fourth] = numbers;
  const card = page.getByRole('region', { name: `Samples ${fourth} to ${newest}` });
  await expect(card).toContainText('4 points');
  await expect(page.getByTestId('stretch')).toHaveCount(1);
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByRole('region', { name: `Samples ${numbers[2]} to ${newest}` })).toContainText('3 points');
  await page.keyboard.press('Shift+ArrowLeft');
  // A link shows the same to somebody else.
  const other = await signedIn(browser, nuvek.url, 'milo');
  await other.goto(page.url());
  await expect(other.getByRole('region', { name: `Samples ${fourth} to ${newest}` })).toContainText('4 points');
  await expect(other.getByRole('button', { name: /^Set all/ })).toHaveCount(0);

  const [file] = await Promise.all([
    page.waitForEvent('download'),
    card.getByRole('link', { name: 'Take them as CSV' }).click(),
  ]);
  const rows = (await (await file.createReadStream()).toArray()).join('').trim().split('\n');
  expect(rows).toHaveLength(5);

  await card.getByRole('button', { name: 'Set all 4 aside …' }).click();
  await card.getByRole('button', { name: 'Set aside' }).click();
  await expect(card.getByText('Choose a cause, or say it in a few words.')).toBeVisible();
  await card.getByRole('textbox', { name: 'Another cause, in words' }).fill('Mixed-up batch');
  await card.getByRole('button', { name: 'Set aside' }).click();
  await expect(card).toContainText('4 are set aside.');
  await expect(card).toContainText('4 points, 4 set aside');
  const aside = await query<{ number: string; cause_text: string }>(
    nuvek.database,
    `select s.number, a.cause_text from set_aside a join sample s on s.id = a.sample_id
     where s.characteristic_id = $1 and s.number = any($2) order by s.taken_at desc, s.number desc`,
    [id, numbers],
  );
  expect(aside.map(({ number }) => Number(number))).toEqual(numbers.slice(0, 4));
  expect(new Set(aside.map(({ cause_text: cause }) => cause))).toEqual(new Set(['Mixed-up batch']));

  // By hand where there is no Shift key: one point, then the one to end at.
  await card.getByRole('button', { name: 'Choose none' }).click();
  const box = await chart.boundingBox();
  if (!box) throw new Error('no chart');
  await page.mouse.click(box.x + 60, box.y + 120);
  await page.getByRole('button', { name: 'Choose on to …' }).click();
  await page.mouse.click(box.x + 240, box.y + 120);
  await expect(page.getByRole('region', { name: /^Samples \d+ to \d+$/ })).toContainText(/\d+ points/);
  await page.getByRole('button', { name: 'Look at them closely' }).click();
  await expect(page.getByRole('slider', { name: 'Part of the chart that is seen' })).not.toHaveAttribute(
    'aria-valuetext',
    'all points',
  );
});
