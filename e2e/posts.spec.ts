// Posts written by hand: from an idea in the calendar to what its audience reads.
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from './test.ts';
import { enter, headersOf, lagoon, playa } from './steps.ts';
import { dateField, dateIn, typeDate } from './pickers.ts';

const words = (page: Page) => page.getByRole('textbox', { name: 'The words of the caption' });
const calendar = async (page: Page) => {
  await page.getByRole('link', { name: 'Calendar', exact: true }).first().click();
  await expect(page.getByRole('table', { name: 'Posts by outlet and day' })).toBeVisible();
};
/** The chips of a post, wherever they are. */
const chip = (page: Page, text: string) => page.getByRole('button').filter({ hasText: text });

/** Begins a post on an outlet's day of the week after, by the link that only shows when it is pointed at. */
async function begin(page: Page, outlet: RegExp): Promise<void> {
  await calendar(page);
  await page.getByRole('button', { name: 'The week after' }).click();
  const row = page.getByRole('row').filter({ has: page.getByRole('rowheader', { name: outlet }) });
  const link = row.getByRole('link', { name: /^Write a post for / }).nth(2);
  await link.focus();
  await link.press('Enter');
  await expect(page.getByRole('heading', { name: 'New post' })).toBeVisible();
}

test('a post is written from the calendar, shown as it will look, planned, corrected and taken back', async ({
  page,
}) => {
  await enter(page);
  await begin(page, /^Tern Bay Lidos/);
  await expect(page.getByRole('checkbox', { name: /^Tern Bay Lidos/ })).toBeChecked();
  await expect(dateField(page, 'The moment it goes out')).toHaveAttribute('data-value', /T12:00$/);
  await page.getByRole('button', { name: 'Plan it' }).click();
  await expect(page.getByRole('alert')).toHaveText(/It says nothing yet/);
  await words(page).click();
  await page.keyboard.type('Lanes are quiet before nine: ');
  await page.keyboard.type('/link');
  await page.getByRole('option', { name: /^Link \(/ }).click();
  await page.getByRole('textbox', { name: 'Link', exact: true }).fill('https://ternbay.example/quiet');
  const preview = page.getByRole('region', { name: 'Preview' });
  await expect(preview).toContainText('Lanes are quiet before nine: https://ternbay.example/quiet');
  await page.getByRole('checkbox', { name: /^@ternbaylidos, microblog/ }).check();
  // The microblog says it shorter.
  await page.getByRole('tab', { name: /^@ternbaylidos/ }).click();
  await expect(page.getByRole('tab', { name: /^@ternbaylidos/ })).toContainText('/300');
  await page.getByRole('button', { name: 'Give it words of its own' }).click();
  const own = page.getByRole('textbox', { name: /^The words for @ternbaylidos/ });
  await own.click();
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.type('Quiet lanes, early.');
  await expect(preview).toContainText('Quiet lanes, early.');
  await page.getByRole('button', { name: 'Plan it' }).click();
  await expect(page.getByText('planned', { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Calendar', exact: true }).last().click();
  await page.getByRole('button', { name: 'The week after' }).click();
  await expect(chip(page, 'Lanes are quiet before nine')).toHaveCount(2);

  // One of the two goes an hour later; then the words are corrected, and both keep their places.
  await chip(page, 'Lanes are quiet before nine').last().click();
  const panel = page.getByRole('complementary', { name: 'The chosen post' });
  const later = (await dateIn(panel, 'When it goes out')).replace('T12:', 'T13:');
  await typeDate(panel, 'When it goes out', later);
  await panel.getByRole('button', { name: 'Move', exact: true }).click();
  await expect(chip(page, '13:00 Lanes are quiet')).toHaveCount(1);
  await chip(page, '12:00 Lanes are quiet').click();
  await panel.getByRole('link', { name: 'Open and change it' }).click();
  await expect(dateField(page, /^The moment on /)).toHaveAttribute('data-value', later);
  await expect(words(page)).toContainText('Lanes are quiet before nine');
  await words(page).click();
  await page.keyboard.press('ControlOrMeta+Home');
  await page.keyboard.type('Psst. ');
  await expect(preview).toContainText('Psst. Lanes');
  // Typed, not saved: it is there again.
  await page.reload();
  await expect(page.getByText('What you typed here before is back')).toBeVisible();
  await expect(words(page)).toContainText('Psst. Lanes');
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await expect(page.getByText('It is planned.')).toBeVisible();
  await page.getByRole('link', { name: 'Calendar', exact: true }).last().click();
  await page.getByRole('button', { name: 'The week after' }).click();
  await expect(chip(page, '12:00 Psst. Lanes')).toHaveCount(1);
  await expect(chip(page, '13:00 Psst. Lanes')).toHaveCount(1);
  await chip(page, '12:00 Psst. Lanes').click();
  await panel.getByRole('link', { name: 'Open and change it' }).click();
  await page.getByRole('button', { name: 'Back to a draft' }).click();
  await expect(page.getByText('a draft', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByText('The post is deleted.')).toBeVisible();
});

test('a post that goes at once is read by its audience, once, and is copied to be posted again', async ({ page }) => {
  await enter(page);
  await calendar(page);
  await page.getByRole('link', { name: 'New post' }).click();
  const text = `Hot soup at the steps today, ${Math.random().toString(36).slice(2, 8)}`;
  await words(page).click();
  await page.keyboard.type(text);
  await page.getByRole('checkbox', { name: /^Tern Bay Lidos/ }).check();
  await page.getByLabel('When it goes out').selectOption({ label: 'at once, when it is ready' });
  await page.getByRole('button', { name: 'Post it now' }).click();
  await expect(page.getByText('is out', { exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep the changes' })).toHaveCount(0);
  const other = await page.context().newPage();
  await other.goto(`${lagoon()}/pages/p/tern-bay-lidos`);
  await expect(other.getByText(text)).toHaveCount(1);
  await other.close();
  await page.getByRole('button', { name: 'Copy' }).click();
  await expect(page.getByText('This is the copy, a draft.')).toBeVisible();
  await expect(words(page)).toContainText(text);
});

test('where a brand asks for a yes nothing goes before it, and Today asks for it', async ({ page }) => {
  await enter(page);
  await begin(page, /^Tern Bay Lidos/);
  await words(page).click();
  await page.keyboard.type('Ask me first.');
  await page.getByRole('button', { name: 'Keep as a draft' }).click();
  await expect(page.getByText('a draft', { exact: true })).toBeVisible();
  await calendar(page);
  await page.getByLabel('Who says yes to posts by hand').selectOption({ label: 'once somebody said yes' });
  await expect(page.getByText('Kept. What was planned already goes out as it is.')).toBeVisible();
  try {
    await page.getByRole('button', { name: 'The week after' }).click();
    await chip(page, 'Ask me first.').click();
    await page.getByRole('link', { name: 'Open and change it' }).click();
    await page.getByRole('button', { name: 'Ask for a yes' }).click();
    await expect(page.getByText('waits for a yes', { exact: true })).toBeVisible();
    await page.getByRole('link', { name: 'Today', exact: true }).click();
    const row = page
      .getByRole('region', { name: /Needs you/ })
      .locator('div', { hasText: 'Ask me first.' })
      .last();
    await expect(row).toContainText('waits for your yes, written by Mo');
    await page.getByRole('link', { name: 'Look at it' }).click();
    await page.getByRole('button', { name: 'Say yes' }).click();
    await expect(page.getByText('planned', { exact: true })).toBeVisible();
    await expect(page.getByText(/^Mo.* said yes/)).toBeVisible();
    // Other words need another yes.
    await words(page).click();
    await page.keyboard.press('ControlOrMeta+End');
    await page.keyboard.type(' Please.');
    await page.getByRole('button', { name: 'Keep the changes' }).click();
    await expect(page.getByText('waits for a yes', { exact: true })).toBeVisible();
    await page.getByRole('button', { name: 'Delete' }).click();
    await expect(page.getByText('The post is deleted.')).toBeVisible();
  } finally {
    await page.request.put(`${playa()}/api/brands/1/approval`, {
      headers: await headersOf(page),
      data: { by: 'nobody' },
    });
  }
});

test('posts come from a file, are moved and deleted several at once, and show in other calendars', async ({ page }) => {
  // Of this try alone: one before may have left some.
  const batch = `batch ${Math.random().toString(36).slice(2, 8)}`;
  await enter(page);
  await calendar(page);
  await page.getByRole('button', { name: 'The week after' }).click();
  const monday = await page
    .getByRole('link', { name: /^Write a post for Old Quay pool/ })
    .first()
    .getAttribute('href');
  const day = new URLSearchParams(monday!.split('?')[1]).get('at')!.slice(0, 10);
  const file = `When,Where,Copy,State\n${day} 07:10,Old Quay pool,First of ${batch},draft\n${day} 07:20,Old Quay pool,Second of ${batch},ready\nsoon,Nowhere,Third of ${batch},ready\n`;
  await page
    .getByLabel('A file of posts')
    .setInputFiles({ name: 'batch.csv', mimeType: 'text/csv', buffer: Buffer.from(file) });
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('3 posts, 1 with something wrong');
  await expect(dialog).toContainText('There is no outlet called “Nowhere”.');
  await dialog.getByRole('button', { name: 'Write 2 posts, without the others' }).click();
  await expect(chip(page, `07:10 First of ${batch}`)).toBeVisible();
  await expect(chip(page, `07:20 Second of ${batch}`)).toBeVisible();
  await page.getByRole('button', { name: 'Choose several' }).click();
  await chip(page, `First of ${batch}`).click();
  await chip(page, `Second of ${batch}`).click();
  const panel = page.getByRole('complementary', { name: 'The chosen posts' });
  await panel.getByRole('button', { name: 'an hour later' }).click();
  await expect(page.getByText('2 posts are moved.')).toBeVisible();
  await expect(chip(page, `08:10 First of ${batch}`)).toBeVisible();
  await expect(chip(page, `08:20 Second of ${batch}`)).toBeVisible();

  await page.getByRole('button', { name: 'Files and addresses' }).click();
  await page.getByRole('menuitem', { name: 'Address for other calendars' }).click();
  await dialog.getByRole('button', { name: 'Make an address' }).click();
  const address = await dialog.getByRole('textbox').inputValue();
  const calendarFile = await (await page.request.get(address)).text();
  expect(calendarFile).toContain(`Second of ${batch}`);
  await dialog.getByRole('button', { name: 'Take it back' }).click();
  await expect(dialog.getByRole('button', { name: 'Make an address' })).toBeVisible();
  expect((await page.request.get(address)).status()).toBe(404);
  await dialog.getByRole('button', { name: 'Close' }).click();

  await chip(page, `First of ${batch}`).click({ modifiers: ['ControlOrMeta'] });
  await chip(page, `Second of ${batch}`).click();
  await panel.getByRole('button', { name: 'Delete 2 posts' }).click();
  await panel.getByRole('button', { name: 'Really delete 2 posts' }).click();
  await expect(page.getByText('2 posts are deleted.')).toBeVisible();
  await expect(chip(page, `of ${batch}`)).toHaveCount(0);
});

test('the post meets WCAG 2.2 AA as far as a machine can tell, and fits a phone', async ({ page }) => {
  await enter(page);
  await calendar(page);
  await page.getByRole('link', { name: 'New post' }).click();
  await words(page).click();
  await page.keyboard.type('Plain words.');
  await page.getByRole('checkbox', { name: /^Tern Bay Lidos/ }).check();
  await expect(page.getByRole('group', { name: /^The post on Tern Bay Lidos/ })).toBeVisible();
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.html).join(' ')}`)).toEqual([]);
  await page.setViewportSize({ width: 390, height: 800 });
  await expect(page.getByRole('button', { name: 'Plan it' })).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});
