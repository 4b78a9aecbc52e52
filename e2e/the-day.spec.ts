import { gzipSync } from 'node:zlib';
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from './test.ts';
import { enter, lagoon, openWorkflow, playa, upload } from './steps.ts';

test('something held is mended from Today, and goes out with the new words', async ({ page }) => {
  await enter(page);
  const needs = page.getByRole('region', { name: /Needs you/ });
  await expect(needs).toContainText('Ninety years of Old Quay');
  await expect(needs).toContainText('669 more than Old Quay pool takes');
  await needs
    .getByRole('group', { name: /Ninety years/ })
    .getByRole('button', { name: 'Change the words' })
    .click();
  const words = page.getByRole('textbox', { name: 'The words to post' });
  await expect(page.getByRole('button', { name: 'Post these words' })).toBeDisabled();
  await words.fill('Ninety years of Old Quay, in one walk.');
  await page.getByRole('button', { name: 'Post these words' }).click();
  // The row keeps its place under the pointer, and says what was decided.
  await expect(needs.getByRole('group', { name: /Ninety years/ })).toContainText('Posting it with your words.');
  await page.mouse.move(2, 2);
  await expect(needs).not.toContainText('Ninety years of Old Quay');
  // What colleagues were told is put away when it has been read.
  const told = needs.getByText(/^Closure \d+ has been on the page/);
  const before = await told.count();
  await needs.getByRole('button', { name: 'Put away' }).last().click();
  await expect(told).toHaveCount(before - 1);
  await expect(page.getByRole('row', { name: /Old Quay pool/ })).toContainText('in one walk', { timeout: 20_000 });
  await page.goto(`${lagoon()}/pages/p/old-quay`);
  await expect(page.locator('article').first()).toContainText('Ninety years of Old Quay, in one walk.');
});

test('access taken back at the network is told, and what waited goes out after connecting again', async ({ page }) => {
  await enter(page);
  await page.request.post(`${lagoon()}/control/api/revoke`, { data: { service: 'pages' } });
  await upload(page, {
    person: 'Mo Okoro',
    channel: 'Tern Bay channel',
    title: 'Lanes after dark',
    description: 'Lamps on at six.',
    length: '4:10',
  });
  const needs = page.getByRole('region', { name: /Needs you/ });
  await expect(needs).toContainText('no longer accepts the sign-in', { timeout: 40_000 });
  await expect(needs).toContainText('1 post waits for it');
  await needs.getByRole('button', { name: 'Connect again' }).click();
  await page.getByRole('button', { name: 'Allow' }).click();
  await expect(page.getByRole('row', { name: /Tern Bay Lidos page/ })).toContainText('Lanes after dark', {
    timeout: 20_000,
  });
  await page.goto(`${lagoon()}/pages/p/tern-bay-lidos`);
  await expect(page.locator('article').filter({ hasText: 'Lanes after dark' })).toHaveCount(1);
});

test('a session that ended elsewhere asks to sign in over the page, and loses nothing', async ({ page }) => {
  await enter(page);
  await openWorkflow(page, 'Sunrise swims');
  await page.context().clearCookies({ name: 'playa_session' });
  await page.getByLabel('Name of the workflow').fill('Swims at sunrise');
  const dialog = page.getByRole('dialog', { name: 'Sign in again' });
  await expect(dialog).toBeVisible();
  await dialog.getByRole('button', { name: 'Enter the demonstration as Mo' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByLabel('Name of the workflow')).toHaveValue('Swims at sunrise');
  await expect(page.getByRole('status').filter({ hasText: /^\s*Saved/ })).toBeVisible({ timeout: 15_000 });
  await page.reload();
  await expect(page.getByLabel('Name of the workflow')).toHaveValue('Swims at sunrise');
  await page.getByLabel('Name of the workflow').fill('Sunrise swims');
  await expect(page.getByRole('status').filter({ hasText: /^\s*Saved/ })).toBeVisible();
});

test('two people on one draft: the second is told, and neither loses anything unasked', async ({ page, context }) => {
  await enter(page);
  await openWorkflow(page, 'Old Quay films');
  const other = await context.newPage();
  await other.goto(page.url());
  await other.getByLabel('Name of the workflow').fill('Old Quay films, theirs');
  await expect(other.getByRole('status').filter({ hasText: /^\s*Saved/ })).toBeVisible();
  await page.getByLabel('Name of the workflow').fill('Old Quay films, mine');
  await expect(page.getByRole('alert')).toContainText('Somebody saved this workflow elsewhere');
  await page.getByRole('button', { name: 'Load theirs' }).click();
  await expect(page.getByLabel('Name of the workflow')).toHaveValue('Old Quay films, theirs');
  await page.getByLabel('Name of the workflow').fill('Old Quay films');
  await expect(page.getByRole('status').filter({ hasText: /^\s*Saved/ })).toBeVisible();
});

test('signing out leaves nothing behind', async ({ page }) => {
  await enter(page);
  await page.getByRole('button', { name: 'You' }).click();
  await page.getByRole('menuitem', { name: 'Sign out', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await page.goto(`${playa()}/1/workflows`);
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
});

for (const scheme of ['light', 'dark'] as const) {
  test(`the views meet WCAG 2.2 AA as far as a machine can tell, ${scheme}`, async ({ browser }) => {
    const context = await browser.newContext({ colorScheme: scheme, viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    await page.goto(`${playa()}/sign-in`);
    const check = async (what: string) => {
      const { violations } = await new AxeBuilder({ page })
        .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
        .analyze();
      expect(
        violations.map(
          (each) => `${what}: ${each.id} ${each.nodes.map((node) => node.html.slice(0, 160)).join(' | ')}`,
        ),
      ).toEqual([]);
    };
    await check('sign-in');
    await enter(page);
    await check('today');
    await page.getByRole('link', { name: 'Accounts' }).click();
    await expect(page.getByText('Works').first()).toBeVisible();
    await check('accounts');
    await page.getByRole('button', { name: 'You' }).click();
    await page.getByRole('menuitem', { name: 'Who did what' }).click();
    await expect(page.getByRole('heading', { name: 'Who did what' })).toBeVisible();
    await expect(page.getByRole('listitem').filter({ hasText: 'Mo Okoro' }).first()).toBeVisible();
    await expect(page.getByRole('menuitem')).toHaveCount(0);
    await check('who did what');
    await page.getByRole('link', { name: 'Sheets', exact: true }).click();
    await expect(page.getByRole('heading', { name: 'Sheets', exact: true })).toBeVisible();
    await page.getByRole('link', { name: 'Own posts', exact: true }).click();
    await expect(page.getByRole('region', { name: 'In step' })).toBeVisible();
    await page.getByRole('button', { name: 'Change', exact: true }).click();
    await expect(page.getByText('Which column is which')).toBeVisible();
    await check('a sheet in step');
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('link', { name: 'Workflows', exact: true }).click();
    await expect(page.getByRole('switch').first()).toBeVisible();
    await check('workflows');
    await openWorkflow(page, 'Lesson videos to the page');
    await page.getByRole('rowheader').filter({ hasText: 'Compose' }).click();
    await expect(page.getByRole('textbox', { name: 'The words of the caption' })).toBeVisible();
    await check('run sheet');
    await context.close();
  });
}

test('the first screen loads at most 200 kB of code, and the text editor only when a caption is opened', async ({
  page,
}) => {
  const loaded = new Map<string, number>();
  page.on('response', (response) => {
    if (!/\.(js|css)$/.test(new URL(response.url()).pathname)) return;
    void response.body().then(
      (body) => loaded.set(response.url(), gzipSync(body).length),
      () => undefined,
    );
  });
  await enter(page);
  const kilobytes = [...loaded.values()].reduce((sum, size) => sum + size, 0) / 1000;
  expect(kilobytes).toBeGreaterThan(20);
  expect(kilobytes).toBeLessThan(200);
  const editorLoaded = () => [...loaded.keys()].some((url) => url.includes('ComposeEditor'));
  await openWorkflow(page, 'Lesson videos to the page');
  await page.getByRole('rowheader').filter({ hasText: 'Check' }).click();
  expect(editorLoaded()).toBe(false);
  await page.getByRole('rowheader').filter({ hasText: 'Compose' }).click();
  await expect(page.getByRole('textbox', { name: 'The words of the caption' })).toBeVisible();
  await expect.poll(editorLoaded).toBe(true);
});

test('on a small screen Today fits the width', async ({ browser }) => {
  const context = await browser.newContext({ viewport: { width: 390, height: 800 } });
  const page = await context.newPage();
  await enter(page);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await context.close();
});
