import type { Page } from '@playwright/test';
import { query } from '../support/nuvek';
import { expect, signedIn, test } from '../support/test';

/** The newest sample of the wall thickness of casting line 1. */
async function newest(database: string): Promise<{ id: string; number: string }> {
  const [found] = await query<{ id: string; number: string }>(
    database,
    `select c.id, s.number from characteristic c join station t on t.id = c.station_id
     join sample s on s.characteristic_id = c.id
     where c.name = 'Wall thickness' and t.name = 'Casting line 1' and not s.gap
     order by s.taken_at desc limit 1`,
  );
  if (!found) throw new Error('the demo has samples');
  return found;
}

interface Told {
  new: number;
  notices: { kind: string }[];
}

const card = (page: Page, number: string) => page.getByRole('region', { name: `Sample ${number}` });

test('a note on a point rings whom it mentions; it is answered, changed by its author, in the diary and on paper', async ({
  browser,
  nuvek,
}) => {
  const { id, number } = await newest(nuvek.database);
  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  const rung = sanna.getByRole('button', { name: /^Notices/ });

  await tilda.goto(`${nuvek.url}/charts/${id}?sample=${number}`);
  const notes = card(tilda, number).getByRole('region', { name: 'Notes' });
  await notes.getByRole('button', { name: 'Write note' }).click();
  await expect(notes.getByText('The note is empty.')).toBeVisible();
  await notes.getByLabel('Note on this sample').fill('The slip lookd thin');
  // By keyboard alone: a few letters of the name, then Enter.
  await notes.getByLabel('For', { exact: true }).focus();
  await tilda.keyboard.type('Sanna');
  await tilda.keyboard.press('ArrowDown');
  await tilda.keyboard.press('Enter');
  await expect(notes.getByText('It rings under their bell.')).toBeVisible();
  await notes.getByRole('button', { name: 'Write note' }).click();
  await expect(notes.getByRole('article')).toHaveCount(1);

  // She changes what she wrote; the one whom it is meant for is not rung twice.
  await notes.getByRole('button', { name: 'Change your note' }).click();
  await notes.getByLabel('Your note').fill('The slip looked thin');
  await notes.getByRole('button', { name: 'Keep the change' }).click();
  await expect(notes.getByRole('article')).toContainText(/The slip looked thin.*for Sanna Samplethorpe.*changed/s);

  // Episodes that wait too long may ring meanwhile.
  await expect(async () => {
    const told = (await (await sanna.request.get(`${nuvek.url}/api/me/notices`)).json()) as Told;
    expect(told.notices.filter(({ kind }) => kind === 'mentioned')).toHaveLength(1);
    expect(await rung.innerText()).toBe(String(told.new));
  }).toPass({ timeout: 20_000 });
  await rung.click();
  await sanna.getByRole('link', { name: 'Tilda Testwell mentions you in a note' }).click();
  await expect(sanna).toHaveURL(new RegExp(`/charts/${id}\\?sample=${number}`));
  const seen = card(sanna, number).getByRole('region', { name: 'Notes' });
  await expect(seen.getByRole('button', { name: 'Change your note' })).toHaveCount(0);
  await seen.getByRole('button', { name: 'Answer the note of Tilda Testwell' }).click();
  await seen.getByLabel('Your answer').fill('Measured again: it is');
  await seen.getByRole('button', { name: 'Write answer' }).click();
  await expect(seen.getByRole('article')).toHaveCount(2);
  // It is there where the first was written, without anybody asking.
  await expect(notes.getByRole('article')).toHaveCount(2);

  // The point has one mark in the diary that tells both.
  await expect(
    tilda
      .getByTestId('remark')
      .and(tilda.getByRole('button', { name: /The slip looked thin\s+↳ Measured again: it is/ })),
  ).toHaveCount(1);
  await tilda.emulateMedia({ media: 'print' });
  await expect(tilda.getByRole('heading', { name: 'Notes on these points' })).toBeVisible();
  await expect(tilda.getByText(new RegExp(`Sample ${number}: The slip looked thin`))).toBeVisible();
  await tilda.emulateMedia({ media: 'screen' });

  // Another's note cannot be changed, whatever is sent.
  const [first] = await query<{ id: string }>(
    nuvek.database,
    "select id from note where text = 'The slip looked thin'",
  );
  const refused = await sanna.request.put(`${nuvek.url}/api/notes/${first?.id}`, {
    headers: { origin: nuvek.url },
    data: { version: 2, text: 'It did not' },
  });
  expect([refused.status(), ((await refused.json()) as { code: string }).code]).toEqual([403, 'not_your_note']);
});
