import { randomUUID } from 'node:crypto';
import { expect, signedIn, test } from '../support/test';
import { report } from './report';

const BRANCHES = 10;
const BELOW = 49;

/** From key to letter, and from Enter to the next line, in a tree of five hundred ideas. */
test('a tree of 500 ideas', async ({ browser, nuvek }) => {
  test.setTimeout(300_000);
  const page = await signedIn(browser, nuvek.url, 'egon');
  const ideas = Array.from({ length: BRANCHES }, (_, b) => {
    const branch = { id: randomUUID(), parent: null, place: b + 1, text: `Branch ${b + 1}`, group: 'machine' };
    const below = Array.from({ length: BELOW }, (__, i) => ({
      id: randomUUID(),
      parent: branch.id,
      place: i + 1,
      text: `Idea ${b + 1}.${i + 1}: worn, loose or cold since the last service`,
      group: null,
    }));
    return [branch, ...below];
  })
    .flat()
    .map((idea) => ({ ...idea, state: 'idea', owner: null, due: null, evidence: [], actions: [] }));
  const made = await page.request.post(`${nuvek.url}/api/cause-trees`, {
    headers: { origin: nuvek.url },
    data: { name: 'Five hundred', ideas: ideas.slice(0, 1) },
  });
  expect(made.status(), await made.text()).toBe(201);
  const { id } = (await made.json()) as { id: string };
  for (let from = 1; from < ideas.length; from += 60) {
    const changes = ideas.slice(from, from + 60).map((idea) => ({ change: 'put', seen: null, idea }));
    const kept = await page.request.post(`${nuvek.url}/api/cause-trees/${id}/ideas`, {
      headers: { origin: nuvek.url },
      data: changes,
    });
    expect(kept.status(), await kept.text()).toBe(200);
  }
  await page.goto(`${nuvek.url}/cause-trees/${id}`);
  const list = page.getByRole('region', { name: 'Ideas' }).getByRole('textbox');
  await expect(list).toHaveCount(BRANCHES * (BELOW + 1));
  await list.nth(255).focus();
  // The clock runs in the page: from the event of the key to the frame in which its letter is painted.
  await page.evaluate(() => {
    const found: number[] = [];
    Object.assign(window, { found });
    document.addEventListener(
      'keydown',
      (event) => {
        if (event.key.length > 1 && event.key !== 'Enter') return;
        const pressed = performance.now();
        requestAnimationFrame(() => setTimeout(() => found.push(performance.now() - pressed)));
      },
      true,
    );
  });
  for (let i = 0; i < 300; i++) await page.keyboard.press('abcdefghij klmnop'.charAt(i % 17), { delay: 20 });
  const times = () => page.evaluate(() => (window as unknown as { found: number[] }).found.splice(0));
  report('key to letter in a tree of 500 ideas', await times());
  for (let i = 0; i < 40; i++) {
    await page.keyboard.press('Enter');
    await page.keyboard.type('x');
  }
  report('the same, with a new line before each letter', await times());
});
