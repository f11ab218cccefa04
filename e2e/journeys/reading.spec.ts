import type { Page } from '@playwright/test';
import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';
import { wall } from '../support/wall';

/** The wall thickness with its points in order. */
async function wallWithPoints(database: string) {
  const found = await wall(database);
  const points = await query<{ number: number; readings: number[]; person: string; gap: boolean }>(
    database,
    `select s.number::int, s.readings, p.name as person, s.gap from sample s join person p on p.id = s.person_id
     where s.characteristic_id = $1 order by s.taken_at, s.number`,
    [found.id],
  );
  return { ...found, points };
}

const chart = (page: Page) => page.getByRole('group', { name: /Control chart of Wall thickness/ });
const strip = (page: Page) => page.getByRole('slider', { name: 'Part of the chart that is seen' });

test('a chart is read by keys, pointer and strip, and says what the analysis says', async ({ browser, nuvek }) => {
  const { id, center, sigma, points } = await wallWithPoints(nuvek.database);
  const page = await signedIn(browser, nuvek.url, 'milo');
  await page.goto(`${nuvek.url}/charts/${id}?last=200`);
  await expect(strip(page)).toHaveAttribute('aria-valuetext', 'all points');

  // The newest point, as the analysis of the same readings under the same limits has it.
  const newest = points[points.length - 1];
  const analysed = await page.request.post(`${nuvek.url}/api/analyze`, {
    headers: { origin: nuvek.url },
    data: {
      task: 'chart',
      chart: 'xbar_r',
      points: [{ values: newest?.readings }],
      limits: [{ basis: 'given', center, sigma }],
    },
  });
  const answer = (await analysed.json()) as {
    panels: { points: { value: number; lower: number; upper: number }[] }[];
  };
  expect(analysed.status(), JSON.stringify(answer)).toBe(200);
  const [mean, range] = answer.panels.map((panel) => panel.points[0]);
  if (!mean || !range) throw new Error('no analysis');
  await chart(page).focus();
  await page.keyboard.press('End');
  const said = page.getByRole('status').filter({ hasText: /^Sample/ });
  const meanSaid = `Mean ${mean.value.toFixed(3)}, limits ${mean.lower.toFixed(3)} to ${mean.upper.toFixed(3)}`;
  const rangeSaid = `Range ${range.value.toFixed(3)}, limits ${range.lower.toFixed(3)} to ${range.upper.toFixed(3)}`;
  await expect(said).toContainText(`Sample ${newest?.number}`);
  await expect(said).toContainText(newest?.person ?? '');
  await expect(said).toContainText(meanSaid);
  await expect(said).toContainText(rangeSaid);
  await page.keyboard.press('ArrowLeft');
  await expect(said).toContainText(`Sample ${points[points.length - 2]?.number}`);

  // The pointer reads the same, and touches nothing.
  const box = await chart(page).boundingBox();
  if (!box) throw new Error('no chart');
  const lines = await page.getByText(/^UCL/).first().boundingBox();
  await page.mouse.move((lines?.x ?? 0) - 72, box.y + 150);
  await expect(page.getByTestId('reading')).toContainText(meanSaid);
  await expect(said).toContainText(`Sample ${points[points.length - 2]?.number}`);

  // Closer by keys; the address says it, and back undoes it.
  await chart(page).focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('+');
  await expect(strip(page)).toHaveAttribute('aria-valuetext', /^points \d+ to \d+ of 200$/);
  await expect(page).toHaveURL(/from=.*&to=/);
  const link = page.url();
  const seen = await strip(page).getAttribute('aria-valuetext');
  await page.keyboard.press('PageUp');
  await expect(strip(page)).not.toHaveAttribute('aria-valuetext', seen ?? '');
  await expect(page).not.toHaveURL(link);
  await page.goBack();
  await expect(page).toHaveURL(link);
  const ends = (text: string | null) => (text?.match(/\d+/g) ?? []).map(Number);
  const [from = 0, to = 0] = ends(seen);
  await expect
    .poll(async () => {
      const [again = 0, until = 0] = ends(await strip(page).getAttribute('aria-valuetext'));
      return Math.max(Math.abs(again - from), Math.abs(until - to));
    })
    .toBeLessThanOrEqual(1);
  // Whoever opens the link sees the same.
  const other = await signedIn(browser, nuvek.url, 'sanna');
  await other.goto(link);
  await expect
    .poll(async () => ends(await strip(other).getAttribute('aria-valuetext'))[0] ?? 0)
    .toBeGreaterThanOrEqual(from - 1);
  await page.getByRole('button', { name: 'Show all again' }).click();
  await expect(strip(page)).toHaveAttribute('aria-valuetext', 'all points');
  expect(await barriers(page)).toEqual([]);
});

test('what is drawn, on which scale and by which marks is chosen, kept by the address, and shown as a table', async ({
  browser,
  nuvek,
}) => {
  const { id, points } = await wallWithPoints(nuvek.database);
  const page = await signedIn(browser, nuvek.url, 'milo');
  await page.goto(`${nuvek.url}/charts/${id}`);
  const edge = chart(page).getByText(/^UCL/);
  await expect(edge).toHaveCount(2);
  await page.getByRole('button', { name: 'What is drawn …' }).click();
  await page.getByLabel('Figures at the edge').uncheck();
  await page.getByLabel('Signals and diary').uncheck();
  await page.getByLabel('Mean from').fill('9');
  await page.getByLabel('Mean to').fill('7');
  await page.getByRole('button', { name: 'Use this scale' }).click();
  await expect(page.getByText('Mean: a scale reaches from a number to a larger one.')).toBeVisible();
  await page.getByLabel('Mean from').fill('5,5');
  await page.getByLabel('Mean to').fill('7');
  await page.getByRole('button', { name: 'Use this scale' }).click();
  await expect(page).toHaveURL(/scale=mean%3A5.5%3A7/);
  await page.keyboard.press('Escape');
  await expect(edge).toHaveCount(0);
  await page.reload();
  await expect(chart(page)).toBeVisible();
  await expect(edge).toHaveCount(0);
  await page.getByRole('button', { name: 'What is drawn …' }).click();
  await expect(page.getByLabel('Mean from')).toHaveValue('5.5');
  await page.getByLabel('Figures at the edge').check();
  await page.keyboard.press('Escape');
  await expect(edge).toHaveCount(2);

  await page.getByRole('combobox', { name: 'Marks by tag' }).click();
  await page.getByRole('option', { name: 'mould' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: /^M1$/ })).toBeVisible();
  await expect(page.getByTestId('mark-0').first()).toBeVisible();

  await page.getByRole('combobox', { name: 'Points' }).click();
  await page.getByRole('option', { name: 'The last 30' }).click();
  await page.getByRole('button', { name: 'As a table' }).click();
  const table = page.getByRole('grid', { name: 'As a table' });
  const newest = points[points.length - 1];
  const first = table.getByRole('row').nth(1);
  await expect(first).toContainText(String(newest?.number));
  await expect(first).toContainText((newest?.readings ?? []).map((x) => x.toFixed(2)).join('   '));
  await expect(table.getByText('1–25 of 30')).toHaveCount(0);
  await expect(page.getByText('1–25 of 30')).toBeVisible();
  // What is looked at closely is what the table holds.
  await chart(page).focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('+');
  await expect(page.getByText('1–25 of 30')).toBeHidden();
  expect(await barriers(page)).toEqual([]);
});

test('a scale is kept for everybody by who sets up charts, and a link shows what it showed', async ({
  browser,
  nuvek,
}) => {
  const { id } = await wallWithPoints(nuvek.database);
  const engineer = await signedIn(browser, nuvek.url, 'egon', { permissions: ['clipboard-read', 'clipboard-write'] });
  await engineer.goto(`${nuvek.url}/charts/${id}`);
  await engineer.getByRole('button', { name: 'Take along …' }).click();
  await engineer.getByRole('menuitem', { name: 'Copy the link' }).click();
  const before = await engineer.evaluate(() => navigator.clipboard.readText());
  await engineer.getByRole('button', { name: 'What is drawn …' }).click();
  await engineer.getByLabel('Range from').fill('0');
  await engineer.getByLabel('Range to').fill('2.5');
  await engineer.getByRole('button', { name: 'Keep for everybody' }).click();
  await expect(engineer.getByText(/^This scale is kept/)).toBeVisible();
  expect(await barriers(engineer)).toEqual([]);

  const page = await signedIn(browser, nuvek.url, 'milo');
  await page.goto(`${nuvek.url}/charts/${id}`);
  await page.getByRole('button', { name: 'What is drawn …' }).click();
  await expect(page.getByLabel('Range to')).toHaveValue('2.5');
  await expect(page.getByRole('button', { name: 'Keep for everybody' })).toHaveCount(0);
  await page.getByRole('button', { name: 'As the points need it' }).click();
  await expect(page).toHaveURL(/scale=auto/);
  await expect(page.getByText(/^Another scale is kept/)).toBeVisible();
  await page.getByRole('button', { name: 'As it is kept' }).click();
  await expect(page).not.toHaveURL(/scale=/);
  await expect(page.getByLabel('Range to')).toHaveValue('2.5');

  // The link was made before; it goes on showing what it showed.
  await page.goto(before);
  await page.getByRole('button', { name: 'What is drawn …' }).click();
  await expect(page.getByLabel('Range to')).toHaveValue('');
  const kept = await query(nuvek.database, 'select scales from characteristic where id = $1', [id]);
  expect(kept).toEqual([{ scales: [{ panel: 'range', low: 0, high: 2.5 }] }]);
});

test('what was said of a point, and what happened, is told at a touch', async ({ browser, nuvek }) => {
  const { id } = await wallWithPoints(nuvek.database);
  const page = await signedIn(browser, nuvek.url, 'milo', { hasTouch: true });
  await page.goto(`${nuvek.url}/charts/${id}`);
  const flag = page.getByTestId('event').first();
  const words = await flag.getAttribute('aria-label');
  await flag.tap();
  await expect(page.getByTestId('told')).toHaveText(words ?? '');
  const remark = page.getByTestId('remark').first();
  await remark.tap();
  await expect(page.getByRole('region', { name: /^Sample \d+$/ })).toContainText('Skipped by');
});

test('a hundred thousand points are drawn as what they were, and each is there on a closer look', async ({
  browser,
  nuvek,
}) => {
  test.setTimeout(180_000);
  const points = 100_000;
  const [found] = await query<{ id: string }>(
    nuvek.database,
    `select id from characteristic where name = 'Viscosity' limit 1`,
  );
  const id = found?.id ?? '';
  // One value stands out: it was the highest of all.
  await query(
    nuvek.database,
    `insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings)
     select gen_random_uuid(), c.id, h.next_number - 1 + i, gen_random_uuid(), gen_random_uuid(), at, at, p.id,
            array[case when i = 54321 then 399 else 326 + (i::bigint * 7919 % 41 - 20) / 2.0 end]::double precision[]
     from characteristic c join sample_head h on h.characteristic_id = c.id, (select id from person limit 1) p,
          (select min(taken_at) as first from sample where characteristic_id = $1) f,
          lateral (select i, f.first - ($2::int - i + 1) * interval '20 seconds' as at from generate_series(1, $2::int) i) s
     where c.id = $1`,
    [id, points],
  );
  await query(
    nuvek.database,
    'update sample_head set next_number = next_number + $2::int where characteristic_id = $1',
    [id, points],
  );
  const page = await signedIn(browser, nuvek.url, 'milo');
  const answered = page.waitForResponse((response) => response.url().includes('last=100000'));
  await page.goto(`${nuvek.url}/charts/${id}?last=all`);
  const body = await (await answered).body();
  expect(body.length).toBeLessThan(300_000);
  const drawn = page.getByRole('group', { name: /Control chart of Viscosity/ });
  await expect(drawn).toHaveAttribute('aria-label', /100000 points/);
  await expect(page.getByText(/^100000 samples.* of 100000 points are drawn/)).toBeVisible();
  // The highest value is among what is drawn.
  const view = JSON.parse(body.toString()) as { panels: { value: number[] }[]; points: { number: number[] } };
  const highest = view.panels[0]?.value.indexOf(399) ?? -1;
  expect(highest).toBeGreaterThan(-1);

  await drawn.focus();
  for (let i = 0; i < 14; i++) await page.keyboard.press('+');
  // Each sample stands for itself now.
  const zoomed = page.getByRole('slider', { name: 'Part of the chart that is seen' });
  await expect(zoomed).toHaveAttribute('aria-valuetext', /of 100000$/);
  await page.getByRole('button', { name: 'As a table' }).click();
  const grid = page.getByRole('grid', { name: 'As a table' });
  await expect(grid).toBeVisible();
  // What is known of the stretch stands there until the closer look has come.
  const steps = async () => {
    const rows = (await grid.getByRole('row').allTextContents()).slice(1, 6);
    const numbers = rows.map((text) => Number(/\d+/.exec(text)?.[0]));
    return numbers.slice(1).map((number, i) => (numbers[i] ?? 0) - number);
  };
  await expect.poll(steps).toEqual([1, 1, 1, 1]);
});
