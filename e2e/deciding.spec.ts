// What a person decides is what goes out: nothing moves under the pointer, what is typed stays, and a pause loses nothing.
import { expect, test } from './test.ts';
import { cellOf, enter, headersOf, lagoon, openDraft, openWorkflow, playa, saved } from './steps.ts';
import type { Page } from '@playwright/test';

const needsOf = (page: Page) => page.getByRole('region', { name: /Needs you/ });
interface TodayRow {
  runId: number;
  key: string;
  title: string;
}
/** What a colleague decides meanwhile. */
async function colleagueSays(page: Page, title: RegExp, decision: object): Promise<void> {
  const { held } = (await (await page.request.get(`${playa()}/api/brands/1/today`)).json()) as { held: TodayRow[] };
  const row = held.find((each) => title.test(each.title))!;
  const answer = await page.request.post(`${playa()}/api/brands/1/runs/${row.runId}/decide`, {
    headers: await headersOf(page),
    data: { key: row.key, decision },
  });
  expect(answer.ok()).toBe(true);
}
const hand = (page: Page, act: object) => page.request.post(`${lagoon()}/control/api/acts`, { data: { act } });

test('a colleague’s yes leaves the open editor and every row where they are', async ({ page }) => {
  await enter(page);
  const needs = needsOf(page);
  const review = needs.getByRole('group', { name: /^Ilse Barrow/ });
  await review.getByRole('button', { name: 'Change the words' }).click();
  const words = review.getByRole('textbox', { name: 'The words' });
  await words.fill('Dear Ilse, that was our mistake.');
  const next = needs.getByRole('group', { name: /^Number 45/ });
  const before = (await next.boundingBox())!.y;
  await colleagueSays(page, /^Ilse Barrow/, { do: 'skip' });
  await expect(review).toContainText('a colleague decided it, or it changed');
  await expect(words).toHaveValue('Dear Ilse, that was our mistake.');
  await expect(review.getByRole('button', { name: 'Copy your words' })).toBeVisible();
  // The row below has not come up to where the pointer is.
  expect((await next.boundingBox())!.y).toBeGreaterThanOrEqual(before - 60);
  await review.getByRole('button', { name: 'Cancel' }).click();
  await page.mouse.move(2, 2);
  await page.locator('h1').click();
  await expect(review).toHaveCount(0);
});

test('a date that cannot be read is put before a person, who writes one', async ({ page }) => {
  await enter(page);
  const row = needsOf(page).getByRole('group', { name: /^Gannet Point is open again/ });
  await expect(row).toContainText('“after the storm” in At cannot be read as a date');
  await row.getByRole('button', { name: 'Write when' }).click();
  await row.getByRole('textbox', { name: 'When it goes on' }).fill('24.12.2030 18:30');
  await row.getByRole('button', { name: 'Go on then' }).click();
  await page.mouse.move(2, 2);
  await openWorkflow(page, 'The plan, posted');
  await page.getByRole('radio', { name: 'Happened' }).click();
  await expect(page.getByRole('gridcell').filter({ hasText: 'until 24 Dec' }).first()).toBeVisible();
});

test('a row that is corrected while it waits is brought up to date on the sheet', async ({ page }) => {
  await enter(page);
  await openWorkflow(page, 'The plan, posted');
  await page.getByRole('radio', { name: 'Happened' }).click();
  const waiting = page.getByRole('columnheader').filter({ hasText: 'Sunrise swim on Saturday' });
  await expect(waiting).toContainText('on its way');
  const { runs } = (await (
    await page.request.get(`${playa()}/api/brands/1/workflows/${page.url().match(/workflows\/(\d+)/)![1]}/runs`)
  ).json()) as { runs: { item: { fields: { Caption: string; row: number } } }[] };
  const { row } = runs.find(({ item }) => item.fields.Caption.startsWith('Sunrise swim on Saturday'))!.item.fields;
  await hand(page, { do: 'change-row', id: row, cells: { Status: 'draft' } });
  await expect(
    cellOf(page, 'Check', 0)
      .or(page.getByRole('gridcell').filter({ hasText: 'Status is not' }))
      .last(),
  ).toBeVisible();
  await expect(
    page.getByRole('columnheader').filter({ hasText: 'Sunrise swim on Saturday' }).filter({ hasText: 'on its way' }),
  ).toHaveCount(0, { timeout: 30_000 });
});

test('a pause keeps what appears, and asks what of it is taken', async ({ page }) => {
  await enter(page);
  await page.getByRole('link', { name: 'Workflows', exact: true }).click();
  const toggle = page.getByRole('switch', { name: /^Neighbours’ notes/ });
  await toggle.click();
  await expect(page.getByText('What appears is kept')).toBeVisible();
  for (const text of ['Fog over the bay', 'Fog gone again'])
    await hand(page, { do: 'note', profile: 'harbourmaster', text });
  const dialog = page.getByRole('dialog', { name: /go on/ });
  // Until the source has been looked at.
  await expect(async () => {
    if (await dialog.isVisible()) await dialog.getByRole('button', { name: 'Stay paused' }).click();
    await toggle.click();
    await expect(dialog.getByText('2 things')).toBeVisible({ timeout: 3000 });
  }).toPass({ timeout: 60_000 });
  await dialog.getByLabel('all 2').check();
  await expect(dialog.getByRole('list')).toContainText('Fog gone again');
  await dialog.getByLabel('Minutes between two').fill('0');
  await dialog.getByRole('button', { name: 'Go on and take 2 things' }).click();
  await expect(page.getByText('takes 2 things from the pause')).toBeVisible();
  await page.getByRole('link', { name: 'Neighbours’ notes', exact: true }).click();
  await page.getByRole('radio', { name: 'Happened' }).click();
  await expect(page.getByRole('columnheader').filter({ hasText: 'Fog gone again' })).toBeVisible({ timeout: 30_000 });
});

test('two that post the same are named before going live, and a placeholder has to be settled', async ({ page }) => {
  await openDraft(page, 'The same once more', (outlet) => [
    { id: 'words', verb: 'compose', name: 'caption', text: 'Words' },
    { id: 'post', verb: 'publish', outlets: [outlet('page', /Tern Bay/)], caption: 'caption', card: 'link' },
  ]);
  await page.getByRole('button', { name: /Go live/ }).click();
  const dialog = page.getByRole('dialog', { name: 'Go live' });
  await expect(dialog).toContainText('“Words” is a placeholder');
  await expect(dialog.getByRole('button', { name: 'Go live' })).toBeDisabled();
  await dialog.getByRole('button', { name: 'Not yet' }).click();
  await page.locator('[data-row=words][data-column="0"]').click();
  const words = page.getByRole('textbox', { name: 'The words of the caption' });
  await words.click();
  await page.keyboard.press('Control+a');
  // The list goes on over a space, until what is meant is found.
  await page.keyboard.type('Seen: /thumbnail wi');
  await expect(page.getByRole('listbox', { name: 'What to put in' })).toContainText('Thumbnail · width');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('A film for you');
  await saved(page);
  await page.getByRole('button', { name: /Go live/ }).click();
  await expect(dialog).toContainText('“Lesson videos to the page” posts from Tern Bay channel to Tern Bay Lidos');
  await expect(dialog).toContainText('more than 20 in an hour or 60 in a day');
  await expect(dialog.getByRole('button', { name: 'Go live' })).toBeEnabled();
});
