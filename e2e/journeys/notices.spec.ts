import { barriers } from '../support/barriers';
import { freePort, query, StandIn } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

interface Mail {
  to: string[];
  data: string;
}
interface Told {
  signed: boolean;
  body: string;
}

test('what is open too long rings, and reaches mailbox and program once, though both were down', async ({
  browser,
  nuvek,
}) => {
  const [mailPort, hookPort] = [await freePort(), await freePort()];
  await nuvek.set({
    NUVEK_MAIL_SERVER: `smtp://127.0.0.1:${mailPort}`,
    NUVEK_URL: 'https://nuvek.tarn-valley.example',
  });
  // What was open before the server began is raised first.
  const due = () =>
    query(
      nuvek.database,
      "select 1 from episode where state = 'open' and not gone and not trial and escalated_at is null",
    );
  await expect.poll(async () => (await due()).length, { timeout: 15_000 }).toBe(0);

  const ada = await signedIn(browser, nuvek.url, 'ada');
  await ada.getByRole('navigation').getByRole('link', { name: 'People' }).click();
  await ada.getByRole('link', { name: 'Webhooks' }).click();
  await ada.getByRole('button', { name: 'Set up a webhook' }).click();
  const form = ada.getByRole('region', { name: 'Set up a webhook' });
  await form.getByLabel('Name').fill('Board in the hall');
  await form.getByLabel('Address').fill('ftp://board');
  await form.getByRole('button', { name: 'Keep' }).click();
  await expect(form.getByText(/An address begins with http/)).toBeVisible();
  await form.getByLabel('Address').fill(`http://127.0.0.1:${hookPort}/board`);
  expect(await barriers(ada)).toEqual([]);
  await form.getByRole('button', { name: 'Keep' }).click();
  const secret = await ada.getByRole('textbox', { name: 'The secret of Board in the hall' }).inputValue();
  await ada.getByRole('button', { name: 'It is copied' }).click();
  await expect(ada.getByText('told of nothing yet')).toBeVisible();

  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  await sanna.getByRole('link', { name: /Sanna Samplethorpe/ }).click();
  const wishes = sanna.getByRole('region', { name: 'Notices by mail' });
  await wishes.getByLabel('Your mailbox').fill('sanna at work');
  await wishes.getByLabel('A signal is open too long').check();
  await wishes.getByRole('button', { name: 'Keep' }).click();
  await expect(wishes.getByText('A mailbox is written as name@host.')).toBeVisible();
  await wishes.getByLabel('Your mailbox').fill('sanna@tarn-valley.example');
  await wishes.getByRole('button', { name: 'Keep' }).click();
  await expect(wishes.getByText('It is kept.')).toBeVisible();
  // What rang before is seen.
  const bell = sanna.getByRole('button', { name: /^Notices, / });
  await bell.click();
  await expect(sanna.getByRole('dialog', { name: 'Notices' })).toBeVisible();
  expect(await barriers(sanna)).toEqual([]);
  await sanna.keyboard.press('Escape');
  await expect(bell).toHaveAccessibleName('Notices, none new');

  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  await openEntry(tilda, /Viscosity/);
  await tilda.getByLabel('Reading').fill('430');
  await tilda.keyboard.press('Enter');
  await tilda.getByText('is unusual', { exact: false }).waitFor();
  await tilda.keyboard.press('Control+Enter');
  await tilda.getByRole('form', { name: 'Answer' }).waitFor();
  // The clock goes on by half an hour.
  const [begun] = await query<{ id: string }>(
    nuvek.database,
    `update episode e set raised_at = raised_at - interval '31 minutes' from characteristic c
     where c.id = e.characteristic_id and c.name = 'Viscosity' and e.state = 'open' and e.aspect = 'location'
     returning e.id`,
  );
  await expect(bell).not.toHaveAccessibleName('Notices, none new', { timeout: 15_000 });
  const failed = () => query(nuvek.database, 'select 1 from delivery where failed is not null and sent_at is null');
  await expect.poll(async () => (await failed()).length, { timeout: 15_000 }).toBeGreaterThanOrEqual(2);

  const mailbox = StandIn.start<Mail>(['mailbox', '--listen', `127.0.0.1:${mailPort}`]);
  const program = StandIn.start<Told>(['webhook', '--listen', `127.0.0.1:${hookPort}`], {
    NUVEK_WEBHOOK_SECRET: secret,
  });
  try {
    const waits = () => query(nuvek.database, 'select 1 from delivery where next_at is not null');
    await expect.poll(async () => (await waits()).length, { timeout: 60_000 }).toBe(0);
    // Long lines are broken for the way (quoted-printable).
    const letters = mailbox.heard.filter(({ data }) => data.replaceAll('=\n', '').includes(`/signals/${begun?.id}`));
    expect(letters).toHaveLength(1);
    expect(letters[0]?.to).toEqual(['sanna@tarn-valley.example']);
    expect(letters[0]?.data).toContain('Subject: A signal is open too long: Viscosity');
    const told = program.heard.filter(({ body }) => body.includes(begun?.id ?? 'none'));
    expect(told).toHaveLength(1);
    expect(told[0]?.signed).toBe(true);
    expect(JSON.parse(told[0]?.body ?? '{}')).toMatchObject({
      type: 'open_too_long',
      data: { station: 'Slip preparation' },
    });
  } finally {
    mailbox.stop();
    program.stop();
  }

  await bell.click();
  await sanna.getByRole('link', { name: 'A signal is open too long' }).first().click();
  await expect(sanna).toHaveURL(new RegExp(`/signals/${begun?.id}`));
  await expect(bell).toHaveAccessibleName('Notices, none new');
});

test('who answered hears that it came back', async ({ browser, nuvek }) => {
  const tilda = await signedIn(browser, nuvek.url, 'tilda');
  const milo = await signedIn(browser, nuvek.url, 'milo');
  const sanna = await signedIn(browser, nuvek.url, 'sanna');
  const [answer] = await query<{ episode: string; login: string }>(
    nuvek.database,
    `select e.id as episode, p.login from episode e join signal g on g.episode_id = e.id
     join answer_of o on o.signal_id = g.id join answer a on a.id = o.answer_id join person p on p.id = a.person_id
     where e.state = 'answered' and p.login in ('tilda', 'milo') limit 1`,
  );
  const [theirs, other] = answer?.login === 'tilda' ? [tilda, milo] : [milo, tilda];
  for (const page of [theirs, other]) {
    // What rang before is seen.
    await page.getByRole('button', { name: /^Notices, / }).click();
    await page.keyboard.press('Escape');
    await expect(page.getByRole('button', { name: 'Notices, none new' })).toBeVisible();
  }
  await sanna.goto(`${nuvek.url}/signals/${answer?.episode}`);
  await sanna.getByRole('button', { name: 'Send back' }).click();
  await sanna.getByRole('textbox', { name: 'Question' }).fill('Which rack?');
  await sanna.getByRole('button', { name: 'Send back' }).click();
  await expect(theirs.getByRole('button', { name: 'Notices, one new' })).toBeVisible();
  await expect(other.getByRole('button', { name: 'Notices, none new' })).toBeVisible();
  await theirs.getByRole('button', { name: 'Notices, one new' }).click();
  await theirs.getByRole('link', { name: 'Your answer was sent back' }).first().click();
  await expect(theirs.getByText('Which rack?').first()).toBeVisible();
});
