import { expect, test, type Page } from './test.ts';
import { cellOf, enter, lagoon, openWorkflow, playa, saved } from './steps.ts';

// Nested steps, web hooks, rules, and what a person decides about runs, through the real pages.
test.beforeEach(async ({ page }) => enter(page));

async function addStep(page: Page, below: string | RegExp, typed: string): Promise<void> {
  await page.getByRole('rowheader').filter({ hasText: below }).first().click();
  await page.keyboard.press('a');
  await page.getByRole('combobox', { name: 'Add a step' }).pressSequentially(typed);
  await page.keyboard.press('Enter');
}

test('a workflow told by a web hook, with cases, a list and rules, is built, tried and switched on', async ({
  page,
}) => {
  await page.getByRole('link', { name: 'Workflows', exact: true }).click();
  await page.getByRole('button', { name: 'New workflow', exact: true }).click();
  await page.getByRole('radio', { name: 'what others send' }).check();
  await page.getByLabel('Name of the web hook').fill('Lost and found');
  await page.getByRole('button', { name: 'Make a secret address' }).click();
  const address = await page.getByLabel('The secret address').inputValue();
  expect(address).toMatch(/\/hooks\/[\w-]{32}$/);

  // The other side sends; the fields are learned from it.
  await page
    .getByRole('textbox', { name: 'Body of the test' })
    .fill('{"title":"A towel","things":["towel","left sandal"],"urgent":false}');
  await page.getByRole('button', { name: 'Send this as a test' }).click();
  await expect(page.getByLabel('Name of the field things')).toBeVisible();
  const sent = await page.request.post(address, { data: { title: 'A key', things: ['key'], urgent: true } });
  expect(sent.status()).toBe(202);
  await expect(page.getByRole('columnheader', { name: 'A key' })).toBeVisible();
  await expect(page.getByRole('columnheader', { name: 'A towel' })).toBeVisible();

  // Cases.
  await addStep(page, /^.*Watch/, 'split');
  await page.getByLabel('Name of case 1').fill('Urgent');
  await page.getByLabel('Field', { exact: true }).selectOption('urgent');
  await page.getByLabel('Question', { exact: true }).selectOption('yes');
  await expect(cellOf(page, 'Split', 0)).toContainText('Urgent');
  await expect(cellOf(page, 'Split', 1)).toContainText('otherwise');
  await addStep(page, 'Urgent', 'end');
  await page.getByLabel('Why it ends here').fill('somebody calls at once');
  await expect(cellOf(page, 'End', 0)).toContainText('somebody calls at once');

  // A list, its elements one by one, and one text of them all.
  await addStep(page, 'Otherwise', 'for each');
  await page.getByLabel('The list').selectOption('things');
  await expect(cellOf(page, 'For each', 1)).toContainText('2 elements');
  // Case matters here: the For each itself is “For each entry of things”.
  await addStep(page, /^\s*Each entry/, 'compose');
  await page.getByRole('button', { name: 'Show as text' }).click();
  await page.getByLabel('The words of the caption, as text').fill('a {$entry}');
  await expect(cellOf(page, 'Compose caption2', 1)).toContainText('2 worded');
  await cellOf(page, 'Compose caption2', 1).click();
  await expect(page.getByRole('region', { name: 'The elements' })).toContainText('a left sandal');
  await addStep(page, 'For each', 'gather');
  await expect(cellOf(page, 'Gather', 1)).toContainText('a towel a left sandal');

  // Rules.
  await page.getByRole('rowheader').filter({ hasText: 'Rules' }).click();
  await page.getByLabel('Once per').selectOption('title');
  await expect(page.getByRole('rowheader').filter({ hasText: 'Rules once per title' })).toBeVisible();
  await saved(page);

  // What is renamed is renamed in every step.
  await page.getByRole('rowheader').filter({ hasText: 'Watch' }).click();
  const field = page.getByLabel('Name of the field things');
  await field.fill('found');
  await field.press('Enter');
  await expect(page.getByRole('rowheader').filter({ hasText: 'For each entry of found' })).toBeVisible();
  await expect(cellOf(page, 'For each', 1)).toContainText('2 elements');
});

test('a question put on purpose is answered on Today, with other words', async ({ page }) => {
  const row = page
    .locator('div')
    .filter({ hasText: /Close everything on the page\?/ })
    .last();
  await expect(page.getByText('Close everything on the page?')).toBeVisible();
  await page
    .getByRole('group', { name: /Number 45/ })
    .getByRole('button', { name: 'Change the words' })
    .click();
  await page.getByRole('textbox', { name: 'The words' }).fill('Every pool is closed until the storm is over.');
  await page.getByRole('button', { name: 'Yes, with these words' }).click();
  // What is decided stays where it is for as long as the pointer is at the list.
  await page.mouse.move(0, 0);
  await expect(page.getByText('Close everything on the page?')).toHaveCount(0);
  expect(await row.count()).toBe(0);
  // Outside the opening hours it waits for them; inside it is on the page at once.
  await openWorkflow(page, 'Closures to the page');
  await page.getByRole('radio', { name: 'Happened' }).click();
  const post = cellOf(page, 'Publish to', 1);
  await expect(post).toContainText(/posted|waits\s+until/);
  if ((await post.textContent())?.includes('posted')) {
    const seen = await page.context().newPage();
    await seen.goto(`${lagoon()}/pages/p/tern-bay-lidos`);
    await expect(seen.getByText('Every pool is closed until the storm is over.')).toBeVisible();
    await seen.close();
  }
});

test('a run is run again from a step, and it is said what goes out twice', async ({ page }) => {
  await openWorkflow(page, 'Lesson videos to the page');
  await page.getByRole('radio', { name: 'Happened' }).click();
  const posted = page.getByRole('gridcell').filter({ hasText: 'posted' }).first();
  // Beside the words, which are a link to the post.
  await posted.click({ position: { x: 4, y: 4 } });
  await page.getByRole('button', { name: /Run again from step 4/ }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('This would be sent a second time');
  await expect(dialog).toContainText('publish at Tern Bay Lidos');
  await dialog.getByRole('button', { name: 'Leave it' }).click();
  await expect(dialog).toHaveCount(0);
});

test('a schedule is a source too, with its next times shown first', async ({ page }) => {
  await page.getByRole('link', { name: 'Workflows', exact: true }).click();
  await page.getByRole('button', { name: 'New workflow', exact: true }).click();
  await page.getByRole('radio', { name: 'a schedule' }).check();
  await page.getByLabel('How often').selectOption('rule');
  await page.getByLabel('Recurrence rule').fill('FREQ=NEVER');
  await expect(page.getByRole('alert')).toContainText('not a recurrence rule');
  await page.getByLabel('Recurrence rule').fill('FREQ=MONTHLY;BYDAY=1MO');
  await expect(page.getByText(/Next: Mon/)).toBeVisible();
  await page.getByRole('button', { name: 'Use this schedule' }).click();
  await expect(page.getByRole('rowheader').filter({ hasText: 'FREQ=MONTHLY;BYDAY=1MO' })).toBeVisible();
  await page.goto(`${playa()}/1/workflows`);
});
