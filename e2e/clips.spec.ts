import { enter, playa } from './steps.ts';
import { expect, test } from './test.ts';

test('ten clips in a row are spread over the free times of their outlet', async ({ page }) => {
  await enter(page);
  const stem = `Page ${Date.now()}`;
  for (let number = 1; number <= 10; number++) {
    const query = new URLSearchParams({
      url: `https://neighbour.example/${stem.replace(' ', '-')}/${number}?utm_source=x`,
      title: `${stem} no ${number}`,
      text: 'Worth a look.',
    });
    await page.goto(`${playa()}/clip?${query}`);
    await expect(page.getByLabel('Title')).toHaveValue(`${stem} no ${number}`);
    await page.getByLabel('Into').selectOption({ label: 'Clips' });
    await page.getByRole('button', { name: 'Clip it' }).click();
    await expect(page.getByText('Clipped into Clips.')).toBeVisible();
  }
  await expect(page.getByText('“Clips spread over the week”')).toBeVisible();
  // All of them are in the calendar, each at a time of its own.
  const posts = async () => {
    const brand = new URL(page.url()).pathname.split('/')[1];
    const now = await page.evaluate(() => Date.now());
    const answer = await page.request.get(
      `${playa()}/api/brands/${brand}/calendar?from=${now}&to=${now + 60 * 86_400_000}`,
    );
    const { posts: planned } = (await answer.json()) as {
      posts: { text: string | null; at: number; slot: number | null }[];
    };
    return planned.filter((post) => post.text?.includes(stem));
  };
  await expect.poll(async () => (await posts()).length, { timeout: 30_000 }).toBe(10);
  const of = await posts();
  expect(new Set(of.map((post) => post.at)).size).toBe(10);
  expect(of.every((post) => post.slot === post.at)).toBe(true);
  // In the order in which they were clipped; two that workers take at the same moment may have each other's place.
  const numbers = [...of].sort((a, b) => a.at - b.at).map((post) => Number(/no (\d+)/.exec(post.text!)![1]));
  const turns = [...numbers].sort((a, b) => a - b);
  expect(numbers.every((number, place) => Math.abs(turns.indexOf(number) - place) <= 1)).toBe(true);
});

test('a page that was clipped before is said to be, whatever it was reached by', async ({ page }) => {
  await enter(page);
  await page.getByRole('link', { name: 'Sheets', exact: true }).click();
  await page.getByRole('link', { name: 'Clip a page' }).click();
  const address = `https://neighbour.example/again/${Date.now()}`;
  await page.getByLabel('Address').fill(address);
  await page.getByLabel('Title').fill('Again');
  await page.getByLabel('Into').selectOption({ label: 'Content plan' });
  await page.getByText('More of Content plan').click();
  await page.getByLabel('Status').selectOption('idea');
  await page.getByRole('button', { name: 'Clip it' }).click();
  await expect(page.getByText('Clipped into Content plan.')).toBeVisible();
  await page.getByRole('button', { name: 'Clip another' }).click();
  await page.getByLabel('Address').fill(`${address}?utm_medium=mail#top`);
  await expect(page.getByText('It was clipped before')).toBeVisible();
  await page.getByRole('link', { name: 'See it' }).click();
  await expect(page.getByRole('complementary', { name: 'The chosen row' }).getByLabel('Status')).toHaveValue('idea');
});

test('a clip sent while signed out waits for the sign-in', async ({ browser }) => {
  const page = await (await browser.newContext()).newPage();
  await page.goto(
    `${playa()}/clip?title=${encodeURIComponent('A page')}&text=${encodeURIComponent('See https://neighbour.example/late now')}`,
  );
  await page.getByRole('button', { name: 'Enter the demonstration as Mo' }).click();
  await expect(page.getByLabel('Address')).toHaveValue('https://neighbour.example/late');
  await expect(page.getByLabel('Title')).toHaveValue('A page');
  await page.context().close();
});
