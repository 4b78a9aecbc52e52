// The desk: what people write at Lagoon is answered from here, by keyboard, in many at once, and with a thumb.
import AxeBuilder from '@axe-core/playwright';
import { expect, test, testNow, type Page } from './test.ts';
import { enter, lagoon } from './steps.ts';

/** Plays somebody of Lagoon's audience. Returns what Lagoon calls it. */
async function play(page: Page, act: Record<string, unknown>): Promise<number> {
  const answer = await page.request.post(`${lagoon()}/control/api/acts`, { data: { act } });
  expect(answer.ok()).toBe(true);
  return ((await answer.json()) as { id: number }).id;
}
/** A view in the bar at the top; the desk says there how many wait. */
const inViews = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: new RegExp(`^${name}`) });
const desk = async (page: Page) => {
  await inViews(page, 'Desk').click();
  await expect(page.getByRole('heading', { name: 'Desk', exact: true })).toBeVisible();
};
const rowOf = (page: Page, text: string) => page.getByRole('row').filter({ hasText: text });
/** Words that no other test, and no other hour, says. */
const words = (about: string) => `${about} ${Math.floor(testNow() / 1000)}`;
const place = async (page: Page, name: string) => {
  await page.goto(`${lagoon()}/listings`);
  await page.getByRole('link', { name }).first().click();
};

test('what a workflow holds is put right at the desk by keyboard, called back, and then sent once', async ({
  page,
}) => {
  await enter(page);
  const text = words('The lanes were full but the sauna made up for it');
  await play(page, { do: 'review', location: 'Tern Bay Lido', by: 'Priya Marsh', stars: 2, text });
  await desk(page);
  await page.getByLabel('In which order').selectOption('newest');
  const row = rowOf(page, text);
  await expect(row).toBeVisible({ timeout: 40_000 });
  await expect(row.getByRole('img', { name: '2 of 5 stars' })).toBeVisible();
  await expect(row).toContainText('Is this a good answer?');
  await expect(row.getByLabel(/^Answer to /)).toHaveValue(/Priya/);
  await row.focus();
  await page.keyboard.press('e');
  await expect(row.getByLabel(/^Answer to /)).toBeFocused();
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.type('Thank you, Priya. Before nine the lanes are quiet.');
  await expect(row).toContainText(/50\/\d+/);
  await page.keyboard.press('ControlOrMeta+Enter');
  await expect(row).toContainText(/Goes in \d+ s, from Mo Okoro/);
  await row.getByRole('button', { name: 'Undo' }).click();
  await expect(row.getByLabel(/^Answer to /)).toHaveValue('Thank you, Priya. Before nine the lanes are quiet.');
  // What was not sent is there again, on whatever machine.
  await page.reload();
  await expect(rowOf(page, text).getByLabel(/^Answer to /)).toHaveValue(/Before nine/);
  await rowOf(page, text).getByRole('button', { name: 'Send', exact: true }).click();
  await page.getByRole('heading', { name: 'Desk', exact: true }).hover();
  await page.getByRole('radio', { name: 'Answered' }).click();
  await expect(rowOf(page, text)).toContainText('Answered by Mo Okoro', { timeout: 30_000 });
  const other = await page.context().newPage();
  await place(other, 'Tern Bay Lido');
  await expect(other.getByText('Thank you, Priya. Before nine the lanes are quiet.')).toHaveCount(1);
  await other.close();
});

test('several answers go at once after their count was shown, and a message shows the whole conversation', async ({
  page,
}) => {
  await enter(page);
  const about = words('Lost goggles');
  const said = ['green ones', 'blue ones', 'with a crack'].map((each) => `${about}, ${each}`);
  for (const [index, text] of said.entries())
    await play(page, {
      do: 'comment',
      profile: 'ternbaylidos',
      by: ['Bea Lund', 'Jonas Fell', 'Nell Harker'][index],
      text,
    });
  await play(page, { do: 'message', profile: 'ternbaylidos', by: 'Wanda Oake', text: `${about}, mine` });
  await desk(page);
  await page.getByLabel('Find words or a name').fill(about);
  await expect(page.locator('[data-item]')).toHaveCount(4, { timeout: 40_000 });
  for (const text of said) {
    await rowOf(page, text)
      .getByLabel(/^Answer to /)
      .fill(`We have them: ${text.split(', ')[1]}.`);
    await rowOf(page, text).getByRole('checkbox').check();
  }
  await page.getByRole('button', { name: 'Send the 3 chosen …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Send 3 answers?' });
  await expect(dialog).toContainText('We have them: with a crack.');
  await dialog.getByRole('button', { name: 'Send 3' }).click();
  await expect(page.getByText(/Goes in \d+ s/)).toHaveCount(3);
  const mine = rowOf(page, `${about}, mine`);
  await mine.getByRole('button', { name: 'Wanda Oake', exact: true }).click();
  const panel = page.getByRole('complementary', { name: 'The conversation' });
  await expect(panel).toContainText(`${about}, mine`);
  await panel.getByLabel('A new label').fill('lost and found');
  await page.keyboard.press('Enter');
  await expect(mine).toContainText('lost and found');
  await panel.getByLabel('Write to them').fill('Yours are here too, Wanda.');
  await panel.getByRole('button', { name: 'Send', exact: true }).click();
  await page.getByRole('radio', { name: 'Answered' }).click();
  await page.getByLabel('Find words or a name').fill(about);
  await expect(page.locator('[data-item]')).toHaveCount(4, { timeout: 40_000 });
  await expect(mine).toContainText('Yours are here too, Wanda.');
  await page.getByRole('link', { name: 'People', exact: true }).click();
  await page.getByLabel('Which label').selectOption('lost and found');
  await expect(page.getByRole('row').filter({ hasText: 'Wanda Oake' })).toHaveCount(1);
});

test('the desk can be used with a thumb, passes its accessibility checks, and tells a person who says stop apart', async ({
  page,
}) => {
  await enter(page);
  await play(page, { do: 'message', profile: 'ternbaylidos', by: 'Teo Vance', text: 'Unsubscribe!' });
  await page.setViewportSize({ width: 390, height: 800 });
  await desk(page);
  await page.getByLabel('In which order').selectOption('newest');
  const row = rowOf(page, 'Unsubscribe!');
  await expect(row).toContainText('asked to be left alone', { timeout: 40_000 });
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await row.getByRole('button', { name: 'More for Teo Vance' }).click();
  await page.getByRole('menuitem', { name: 'Leave without an answer' }).click();
  await expect(page.getByText('Left without an answer.')).toBeVisible();
  for (const view of ['Desk', 'People'] as const) {
    await inViews(page, view).click();
    await expect(page.getByRole('heading', { name: view, exact: true })).toBeVisible();
    await expect(page.getByText('Loading …')).toHaveCount(0);
    const { violations } = await new AxeBuilder({ page })
      .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
      .analyze();
    expect(violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.html).join(' ')}`)).toEqual([]);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  }
});

test('an answer is drafted in the brand’s voice, changed, and sent; the numbers count it', async ({ page }) => {
  await enter(page);
  const text = words('Is the water warm enough for a first swim');
  await play(page, { do: 'review', location: 'Gannet Point Pool', by: 'Teo Vance', stars: 3, text });
  await desk(page);
  await page.getByRole('button', { name: 'Voice' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByLabel('Facts it may tell')).toHaveValue(/A swim is £6.50/);
  expect((await new AxeBuilder({ page }).include('[role=dialog]').analyze()).violations).toEqual([]);
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await page.getByLabel('In which order').selectOption('newest');
  const row = rowOf(page, text);
  await expect(row).toBeVisible({ timeout: 40_000 });
  // What a workflow drafts for it may come while it is read; then a draft by hand is another one.
  await expect(row.getByLabel(/^Answer to /)).toHaveValue(/Teo/, { timeout: 40_000 });
  const first = await row.getByLabel(/^Answer to /).inputValue();
  await row.focus();
  await page.keyboard.press('d');
  await expect(row.getByRole('group', { name: 'Drafts' })).toContainText('2 of 2');
  await expect(row.getByLabel(/^Answer to /)).toHaveValue(/Teo[^]*– The team at Gannet Point$/);
  await expect(row.getByLabel(/^Answer to /)).not.toHaveValue(first);
  await row.getByRole('button', { name: 'The draft before' }).click();
  await expect(row.getByLabel(/^Answer to /)).toHaveValue(first);
  await row.getByLabel(/^Answer to /).fill('Eleven degrees, Teo. Two minutes are a good beginning.');
  await page.keyboard.press('ControlOrMeta+Enter');
  await page.getByRole('heading', { name: 'Desk', exact: true }).hover();
  await page.getByRole('radio', { name: 'Answered' }).click();
  await expect(rowOf(page, text)).toContainText('Answered by Mo Okoro', { timeout: 30_000 });
  await page.getByRole('link', { name: 'Numbers' }).click();
  await expect(page.getByRole('main')).toContainText(/\d+ wrote who wanted an answer; \d+ % have one\./);
  await expect(page.getByRole('img', { name: /^How long people waited/ }).locator('svg')).toBeVisible();
  await page
    .getByRole('figure')
    .filter({ hasText: 'Who answered' })
    .getByRole('button', { name: 'As a table' })
    .click();
  await expect(page.getByRole('columnheader', { name: 'by people' })).toBeVisible();
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
});

test('one desk for all brands: a view of it is kept, and two people who are one are made one', async ({ page }) => {
  await enter(page);
  const text = words('Is the sauna open to everybody');
  await play(page, { do: 'comment', profile: 'ternbaylidos', by: 'Nell Harker', text });
  await play(page, {
    do: 'review',
    location: 'Old Quay Pool',
    by: 'Nell Harker',
    stars: 4,
    text: words('A fine pool'),
  });
  await desk(page);
  await page.getByLabel('Whose desk').selectOption('all');
  await page.getByLabel('Which kind').selectOption('comment');
  await page.getByLabel('In which order').selectOption('newest');
  const row = rowOf(page, text);
  await expect(row).toContainText('Tern Bay Lidos', { timeout: 40_000 });
  await page.getByRole('button', { name: 'Views', exact: true }).click();
  await page.getByLabel('Name of the view').fill('Comments everywhere');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByRole('list', { name: 'Kept views' })).toContainText('Comments everywhere');
  await page.keyboard.press('Escape');
  // On another day, from another view.
  await desk(page);
  await page.getByRole('button', { name: 'Views', exact: true }).click();
  await page.getByRole('button', { name: 'Comments everywhere', exact: true }).click();
  await expect(page.getByLabel('Whose desk')).toHaveValue('all');
  await row.getByRole('button', { name: 'Nell Harker', exact: true }).click();
  const panel = page.getByRole('complementary', { name: 'The conversation' });
  await panel.getByRole('button', { name: 'The same person as' }).click();
  await panel.getByRole('list', { name: 'People like that' }).getByRole('button').first().click();
  await expect(panel).toContainText('also Nell Harker');
  await expect(panel.getByRole('list', { name: 'What was said' })).toContainText('A fine pool');
  await panel.getByRole('button', { name: 'not the same' }).click();
  await expect(panel.getByRole('list', { name: 'What was said' })).not.toContainText('A fine pool');
});
