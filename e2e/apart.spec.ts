// What one sender or one window does stops no other.
import { chooseBrand, enter, headersOf, openWorkflow, playa } from './steps.ts';
import { expect, test } from './test.ts';

test('seven tabs of one browser all work, hear of changes, and go on when the first is closed', async ({ page }) => {
  await enter(page);
  await openWorkflow(page, 'Lesson videos to the page');
  const sheet = page.url();
  const tabs = [page];
  for (let n = 0; n < 5; n++) {
    const tab = await page.context().newPage();
    await tab.goto(sheet);
    await expect(tab.getByRole('grid', { name: /Run sheet/ })).toBeVisible();
    tabs.push(tab);
  }
  // HTTP/1.1 allows six connections: with a stream for each tab this one would wait for ever.
  const last = await page.context().newPage();
  await last.goto(`${playa()}/1/workflows`);
  const name = last.getByRole('link', { name: 'Heard everywhere', exact: true });
  await expect(last.getByRole('heading', { name: 'Workflows', exact: true })).toBeVisible();
  const headers = await headersOf(page);
  const made = (title: string) =>
    page.request.post(`${playa()}/api/brands/1/workflows`, {
      headers,
      data: { name: title, definition: { schema: 1, sources: [{ id: 'source', watch: 1 }], steps: [] } },
    });
  await made('Heard everywhere');
  await expect(name).toBeVisible();
  // The tab that holds the stream goes; another takes over.
  await page.close();
  await expect(async () => {
    await made(`Heard after it ${Date.now()}`);
    await expect(last.getByRole('link', { name: /Heard after it/ }).first()).toBeVisible({ timeout: 2000 });
  }).toPass();
  for (const tab of tabs.slice(1)) await tab.close();
});

test('what could not be taken is shown on Today with its reason, and put away', async ({ page, request }) => {
  await enter(page);
  const sources = (await (await page.request.get(`${playa()}/api/brands/1/sources`)).json()) as {
    watches: { id: number; kind: string }[];
  };
  const hook = sources.watches.find((watch) => watch.kind === 'hook')!;
  const { address } = (await (await page.request.get(`${playa()}/api/brands/1/sources/${hook.id}/hook`)).json()) as {
    address: string;
  };
  const answer = await request.post(address, {
    headers: { 'content-type': 'application/json' },
    data: `${'{"pool":'.repeat(21)}1${'}'.repeat(21)}`,
  });
  expect(answer.status()).toBe(422);
  const row = page.getByRole('group').filter({ hasText: 'Something was sent that could not be taken' });
  await expect(row).toContainText('nested more than 12 deep');
  await row.getByRole('button', { name: 'Put away' }).click();
  await expect(row).toHaveCount(0);
  // Nobody of another brand is told.
  await chooseBrand(page, 'Marram Bakehouse');
  await expect(page.getByRole('heading', { name: 'Needs you' })).toBeVisible();
  await expect(row).toHaveCount(0);
});

test('signing out on all devices ends the other ones too', async ({ page, browser }) => {
  const other = await browser.newContext();
  const phone = await other.newPage();
  await enter(page);
  await enter(phone);
  await page.getByRole('button', { name: 'You' }).click();
  await page.getByRole('menuitem', { name: 'Sign out on all devices' }).click();
  await expect(page.getByRole('button', { name: 'Sign in', exact: true })).toBeVisible();
  await phone.goto(`${playa()}/1/workflows`);
  await expect(phone.getByRole('button', { name: 'Sign in', exact: true })).toBeVisible();
  await other.close();
});
