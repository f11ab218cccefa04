import { barriers } from '../support/barriers';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

test('a chart is looked at on another kind and split by a tag; nothing is changed, and figures are those of the analysis', async ({
  browser,
  nuvek,
}) => {
  const page = await signedIn(browser, nuvek.url, 'milo');
  const [wall] = await query<{ id: string }>(
    nuvek.database,
    `select c.id from characteristic c join station s on s.id = c.station_id
     where c.name = 'Wall thickness' and s.name = 'Casting line 1'`,
  );
  const counted = () =>
    query(
      nuvek.database,
      // What is open too long is raised by itself.
      `select (select count(*) from signal) as signals,
              (select count(*) from trail where action not in ('episode_escalated')) as deeds`,
    );
  await page.goto(`${nuvek.url}/charts/${wall?.id}`);
  const before = await counted();
  await page.getByRole('link', { name: 'Look at it otherwise …' }).click();
  await expect(page.getByText('For looking only:')).toBeVisible();

  const pick = async (field: string, option: string | RegExp) => {
    await page.getByRole('combobox', { name: field }).click();
    await page.getByRole('option', { name: option }).click();
  };
  await pick('Chart', 'Exponentially weighted moving average');
  const drawn = page.getByRole('region', { name: 'Exponentially weighted moving average' });
  await expect(drawn.getByText('Weighted average')).toBeVisible();
  const samples = await query<{ readings: number[]; tags: Record<string, string> }>(
    nuvek.database,
    `select * from (select readings, tags, taken_at, number from sample where characteristic_id = $1 and not gap
                    order by taken_at desc, number desc limit 200) s order by taken_at, number`,
    [wall?.id],
  );
  const analysed = async (chart: string, points: typeof samples, how: object = {}) => {
    const answer = await page.request.post(`${nuvek.url}/api/analyze`, {
      headers: { origin: nuvek.url },
      data: { task: 'chart', chart, points: points.map(({ readings }) => ({ values: readings })), ...how },
    });
    return (await answer.json()) as {
      phases: { center: number; sigma: number }[];
      panels: { points: { upper: number }[] }[];
      signals: object[];
    };
  };
  const ewma = await analysed('ewma', samples);
  await expect(drawn).toContainText(`UCL ${ewma.panels[0]?.points.at(-1)?.upper.toFixed(3)}`);

  await pick('Chart', /as it is judged$/);
  // Limits elsewhere and other rules, marked as looking only.
  await pick('Limits at', '2 sigma');
  await pick('Rules', 'Beyond the limits, nothing else');
  const nearer = await analysed('xbar_r', samples, {
    limits: [{ basis: 'estimated', k: 2 }],
    rules: { preset: 'limits_only' },
  });
  const own = page.getByRole('region', { name: 'Mean and range' });
  await expect(own).toContainText(`UCL ${nearer.panels[0]?.points.at(-1)?.upper.toFixed(3)}`);
  await expect(own.getByRole('group', { name: new RegExp(`${nearer.signals.length} episodes?$`) })).toBeVisible();
  await expect(page.getByText('For looking only:')).toBeVisible();
  await pick('Limits at', /as it is judged$/);
  await pick('By tag', 'Mould');
  for (const mould of ['M1', 'M6']) {
    const figures = await analysed(
      'xbar_r',
      samples.filter(({ tags }) => tags.mould === mould),
    );
    const row = page.getByRole('region', { name: 'Figures' }).getByRole('row', { name: new RegExp(`^${mould}`) });
    await expect(row).toContainText(figures.phases[0]?.center.toFixed(3) ?? '');
    await expect(row).toContainText(figures.phases[0]?.sigma.toFixed(4) ?? '');
    await expect(page.getByRole('region', { name: mould, exact: true })).toBeVisible();
  }
  expect(await barriers(page)).toEqual([]);
  await pick('Arranged as', /a phase for each/);
  await expect(page.getByText(/^M1 · \d+ points$/)).toBeVisible();
  await pick('Arranged as', /a mark for each/);
  await expect(page.getByTestId('mark-5').first()).toBeVisible();
  // The browser goes back through what was looked at.
  await page.goBack();
  await expect(page.getByText(/^M1 · \d+ points$/)).toBeVisible();
  expect(await counted()).toEqual(before);
});
