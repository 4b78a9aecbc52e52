// What is planned is seen by outlet and day, and moved: by hand to a free time, to one that is taken, by the keyboard alone.
import { expect, test, type Page } from './test.ts';
import { enter } from './steps.ts';
import { dateField, dateIn, typeDate } from './pickers.ts';

const chips = (page: Page) => page.locator('button[aria-pressed]');
const planned = (page: Page) => chips(page).filter({ hasText: 'The plan, on the microblog' });
const freeThere = (page: Page) => planned(page).first().locator('xpath=ancestor::tr').locator('[data-free]');
/** Opens the first week, from this one on, in which something holds; which it is depends on the day of the week. */
async function openWeekWith(page: Page, holds: (page: Page) => Promise<boolean>): Promise<void> {
  await enter(page);
  await page.getByRole('link', { name: 'Calendar', exact: true }).click();
  await expect(page.getByRole('table', { name: 'Posts by outlet and day' })).toBeVisible();
  await expect(async () => {
    if (await holds(page)) return;
    await page.getByRole('button', { name: 'The week after' }).click();
    await expect.poll(() => holds(page), { timeout: 2000 }).toBe(true);
  }).toPass({ timeout: 15_000 });
}

/**
 * Opens a week in which something is planned and a time is free. On some days what is planned takes just the times that are
 * left of the week: then the last of it is moved to the next one.
 */
async function openWeekWithRoom(page: Page): Promise<void> {
  await openWeekWith(page, async () => (await planned(page).count()) > 0);
  if ((await freeThere(page).count()) > 0) return;
  await planned(page).last().click();
  const panel = page.getByRole('complementary', { name: 'The chosen post' });
  const at = new Date(`${await dateIn(panel, 'When it goes out')}Z`);
  at.setUTCDate(at.getUTCDate() + 7);
  await typeDate(panel, 'When it goes out', at.toISOString().slice(0, 16));
  await panel.getByRole('button', { name: 'Move', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: 'goes out' }).last()).toBeVisible();
  await page.getByRole('button', { name: 'The week after' }).click();
  await expect(page).toHaveURL(/day=/);
  // What was said of this move, with its Undo, is not what the test is about.
  await page.reload();
  await expect.poll(() => planned(page).count()).toBeGreaterThan(0);
  await expect.poll(() => freeThere(page).count()).toBeGreaterThan(0);
}

test('what went out and what is planned stand by outlet and day; a post opens beside', async ({ page }) => {
  await enter(page);
  await page.getByRole('link', { name: 'Calendar', exact: true }).click();
  const table = page.getByRole('table', { name: 'Posts by outlet and day' });
  await expect(table.getByRole('rowheader').filter({ hasText: 'Tern Bay Lidos' }).first()).toContainText('a week');
  // Early on a Monday nothing has gone out yet in this week.
  await page.getByRole('button', { name: 'The week before' }).click();
  await expect(table.getByText('✓').first()).toBeVisible();
  await table.locator('button[aria-pressed]').first().click();
  await expect(page.getByRole('complementary', { name: 'The chosen post' })).toContainText('It is out.');
  await page.getByRole('radio', { name: 'Month' }).click();
  await expect(page.getByRole('table', { name: 'Posts by day' })).toBeVisible();
});

test('a post is dragged to a free time, and goes back by undo', async ({ page }) => {
  await openWeekWithRoom(page);
  const row = page
    .getByRole('row')
    .filter({ has: planned(page).first() })
    .first();
  const chip = row.locator('button[aria-pressed]').filter({ hasText: 'The plan, on the microblog' }).first();
  const title = (await chip.textContent())!.slice(0, 5);
  const free = row.locator('[data-free]').last();
  const time = (await free.textContent())!.slice(0, 5);
  await chip.dragTo(free);
  await expect(page.getByRole('status').filter({ hasText: 'goes out' }).last()).toContainText(time);
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(row.locator('button[aria-pressed]').filter({ hasText: title }).first()).toBeVisible();
});

test('by the keyboard a post takes a time that is held, and what moves on is shown before', async ({ page }) => {
  await openWeekWith(page, async () => (await planned(page).count()) > 1);
  const both = planned(page);
  expect(await both.count()).toBeGreaterThan(1);
  const first = both.first();
  await both.nth(1).focus();
  await page.keyboard.press('Enter');
  const panel = page.getByRole('complementary', { name: 'The chosen post' });
  const second = await dateIn(panel, 'When it goes out');
  await first.focus();
  await page.keyboard.press('Enter');
  await typeDate(panel, 'When it goes out', second);
  await expect(panel).toContainText('That time is taken.');
  await panel.getByRole('button', { name: 'Move', exact: true }).press('Enter');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('is taken');
  await expect(dialog.getByRole('listitem').first()).toContainText('→');
  await dialog.getByRole('button', { name: 'Move the others on' }).press('Enter');
  await expect(dialog).toBeHidden();
  await expect(page.getByText(/moved on\./)).toBeVisible();
  await expect(dateField(panel, 'When it goes out')).toHaveAttribute('data-value', second);
});

test('a timetable is made, kept, and shows free times', async ({ page }) => {
  await enter(page);
  await page.getByRole('link', { name: 'Calendar', exact: true }).click();
  await page.getByRole('button', { name: 'Make a timetable of Our photographs' }).click();
  const dialog = page.getByRole('dialog', { name: 'When Our photographs publishes' });
  await typeDate(dialog, 'Another time on Monday', '06:45');
  await dialog.getByRole('button', { name: 'Add the time to Monday' }).click();
  await dialog.getByRole('button', { name: 'the same every day' }).click();
  await dialog.getByRole('button', { name: 'Keep the timetable' }).click();
  await expect(dialog).toBeHidden();
  await page.getByRole('button', { name: 'The week after' }).click();
  const row = page.getByRole('row').filter({ has: page.getByRole('rowheader').filter({ hasText: 'Our photographs' }) });
  await expect(row.getByText('06:45 free')).toHaveCount(7);
});

test('on a small screen the week is a list of days', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 800 });
  await enter(page);
  await page.getByRole('link', { name: 'Calendar', exact: true }).click();
  await expect(page.getByRole('heading', { name: /Monday/ })).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});
