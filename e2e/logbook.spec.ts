import AxeBuilder from '@axe-core/playwright';
import { readFile } from 'node:fs/promises';
import { enter } from './steps.ts';
import { expect, test, type Page } from './test.ts';
import { choose } from './pickers.ts';

async function openLogbook(page: Page): Promise<void> {
  await enter(page);
  await page.getByRole('link', { name: 'Logbook', exact: true }).click();
  await expect(page.getByRole('listitem').first()).toBeVisible();
}
const entries = (page: Page) => page.locator('section[aria-label] li');

test('what went out is found as one types, opened, filtered and saved', async ({ page }) => {
  await openLogbook(page);
  await page.getByRole('searchbox', { name: 'Find in what was said' }).fill('breath side');
  await expect(page).toHaveURL(/words=breath\+side/);
  await expect(entries(page).filter({ hasText: 'Breathing on both sides' }).first()).toBeVisible();
  await expect(entries(page).filter({ hasNotText: /breath/i })).toHaveCount(0);
  await page.getByLabel('Which sort').selectOption('posts');
  await expect(entries(page).filter({ hasText: 'recorded' })).toHaveCount(0);
  await entries(page).filter({ hasText: 'Lesson videos to the page' }).first().getByRole('button').click();
  const panel = page.getByRole('complementary', { name: 'The chosen entry' });
  await expect(panel.getByRole('link', { name: 'Lesson videos to the page' })).toBeVisible();
  await expect(panel.getByRole('button', { name: /Edit this post/ })).toBeVisible();
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(
    violations.map((each) => `${each.id} ${each.nodes.map((node) => node.html.slice(0, 160)).join(' | ')}`),
  ).toEqual([]);
  await page.getByRole('button', { name: 'Save as' }).click();
  const saving = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'CSV file' }).click();
  const text = await readFile((await (await saving).path())!, 'utf8');
  const lines = text.trim().split('\r\n');
  expect(lines[0]).toContain('When,Act,Where,Words');
  expect(lines.length - 1).toBe(await entries(page).count());
});

test('posts are deleted at their networks, several at once, and stay known', async ({ page }) => {
  await openLogbook(page);
  await page.getByRole('searchbox', { name: 'Find in what was said' }).fill('low water');
  await choose(page.getByRole('combobox', { name: 'Which workflow' }), 'Neighbours’ notes');
  const boxes = entries(page).getByRole('checkbox');
  await expect(boxes.nth(1)).toBeVisible();
  await boxes.nth(0).check();
  await boxes.nth(1).check();
  await page.getByRole('button', { name: 'Delete 2 there …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Delete 2 posts at their networks?' });
  await dialog.getByRole('button', { name: 'Delete 2 there' }).click();
  await expect(page.getByText('2 posts are deleted.')).toBeVisible();
  await page.getByLabel('What became of it').selectOption('deleted');
  await expect(entries(page)).toHaveCount(2);
});

test('Today’s count leads to the logbook, and what wants tidying up is listed', async ({ page }) => {
  await enter(page);
  const link = page.getByRole('link', { name: /^[1-9]\d* this week$/ }).first();
  const count = Number((await link.textContent())!.match(/\d+/)![0]);
  await link.click();
  await expect(page.getByRole('heading', { name: 'Logbook' })).toBeVisible();
  await expect.poll(() => entries(page).count()).toBeGreaterThanOrEqual(count);
  await page.getByRole('radio', { name: 'To tidy up' }).click();
  await expect(page.getByRole('region').or(page.getByText('nothing is out twice')).first()).toBeVisible();
});
