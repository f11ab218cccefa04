import { Nuvek } from '../support/nuvek';
import { expect, openEntry, signedIn, test } from '../support/test';

test('two instances on one database both show what happens on either', async ({ browser, nuvek }) => {
  const second = await Nuvek.start(nuvek.database);
  try {
    const here = await signedIn(browser, nuvek.url, 'tilda');
    const there = await signedIn(browser, second.url, 'sanna');
    await there.goto(`${second.url}/charts?find=Viscosity`);
    await there.getByRole('link', { name: /Viscosity/ }).click();
    const count = async () =>
      Number(/(\d+) samples in all/.exec(await there.getByText(/samples in all/).innerText())?.[1]);
    const before = await count();
    await openEntry(here, /Viscosity/);
    await here.keyboard.type('331');
    await here.keyboard.press('Enter');
    await expect(here.getByText(/is saved/)).toBeVisible();
    await expect.poll(count).toBe(before + 1);
  } finally {
    await second.stop();
  }
});
