import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from './test.ts';
import { enter } from './steps.ts';

// Sheets of Playa's own: a plan that people fill in, and workflows that read and write it.
const grid = (page: Page) => page.getByRole('grid');
const cell = (page: Page, row: string, column: number) =>
  grid(page).getByRole('row').filter({ hasText: row }).getByRole('gridcell').nth(column);
const saved = (page: Page) => expect(page.getByText('Saving …')).toBeHidden();

async function openPlan(page: Page): Promise<void> {
  await enter(page);
  await page.getByRole('link', { name: 'Sheets', exact: true }).click();
  await page.getByRole('link', { name: 'Content plan', exact: true }).first().click();
  await expect(grid(page).getByText('Volunteers wanted')).toBeVisible();
}
/** Puts a block on the clipboard of the page, and pastes it where the keyboard is. */
async function paste(page: Page, text: string): Promise<void> {
  await grid(page)
    .locator('.tabulator-tableholder')
    .evaluate((holder, block) => {
      const clipboardData = new DataTransfer();
      clipboardData.setData('text/plain', block);
      holder.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
    }, text);
}

test('a row that is made ready goes out when its time comes, and says where and when', async ({ page }) => {
  await openPlan(page);
  const title = `Rail ${Date.now()}`;
  await page.getByRole('button', { name: 'A row', exact: true }).click();
  await page.keyboard.type(title);
  await page.keyboard.press('Enter');
  await saved(page);
  await grid(page)
    .getByRole('row')
    .filter({ hasText: title })
    .getByRole('button', { name: /Open row/ })
    .click();
  const panel = page.getByRole('complementary', { name: 'The chosen row' });
  await panel.getByLabel('Copy').fill(`${title} is in place.`);
  await panel.getByLabel('Status').selectOption('ready');
  // With seconds, as somebody writes it who cannot wait.
  const soon = await page.evaluate(() => new Date(Date.now() + 6000).toISOString());
  await cell(page, title, 5).dblclick();
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.type(soon);
  await page.keyboard.press('Enter');
  await saved(page);
  await expect(cell(page, title, 4)).toContainText('ready');
  await expect(cell(page, title, 4)).toContainText('posted', { timeout: 40_000 });
  await expect(panel.getByText('The content plan goes out').first()).toBeVisible();
  await expect(panel.getByText('posted')).not.toHaveCount(0);
});

test('it is filled in by the keyboard alone: typed, filled down, pasted from a spreadsheet, undone', async ({
  page,
}) => {
  await openPlan(page);
  await page.getByRole('button', { name: 'A row', exact: true }).click();
  const stem = `Keys ${Date.now()}`;
  await page.keyboard.type(`${stem} one`);
  await page.keyboard.press('Enter');
  await saved(page);
  await expect(grid(page).getByText(`${stem} one`)).toBeVisible();
  // Three rows more than there are: they are added.
  await page.keyboard.press('ArrowRight');
  await paste(page, 'First copy');
  await page.keyboard.press('ArrowLeft');
  await paste(page, `${stem} one\tFirst copy\n${stem} two\t"Two\nlines"\n${stem} three\t`);
  await saved(page);
  await expect(grid(page).getByRole('row').filter({ hasText: stem })).toHaveCount(3);
  // From the first of them down.
  await cell(page, `${stem} one`, 4).click();
  await page.keyboard.type('idea');
  await page.keyboard.press('Escape');
  await cell(page, `${stem} one`, 4).dblclick();
  await grid(page).getByRole('combobox', { name: 'Status' }).selectOption('idea');
  await saved(page);
  await cell(page, `${stem} one`, 4).click();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('ControlOrMeta+d');
  await saved(page);
  await expect(cell(page, `${stem} three`, 4)).toContainText('idea');
  await page.keyboard.press('ControlOrMeta+z');
  await saved(page);
  await expect(cell(page, `${stem} three`, 4)).not.toContainText('idea');
  await page.keyboard.press('ControlOrMeta+y');
  await expect(cell(page, `${stem} three`, 4)).toContainText('idea');
  await page.reload();
  await expect(cell(page, `${stem} two`, 2)).toContainText('Two');
  await expect(cell(page, `${stem} three`, 4)).toContainText('idea');
});

test('two people at one cell: the later one is shown both, and loses nothing', async ({ page, browser }) => {
  await openPlan(page);
  const other = await (await browser.newContext()).newPage();
  await openPlan(other);
  // The second does not hear of the first.
  await other.route('**/rows?since=*', (route) => route.abort());
  await cell(page, 'Lantern swim', 2).dblclick();
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.type('Lanterns at seven.');
  await page.keyboard.press('Enter');
  await saved(page);
  await cell(other, 'Lantern swim', 2).dblclick();
  await other.keyboard.press('ControlOrMeta+a');
  await other.keyboard.type('Lanterns at eight.');
  await other.keyboard.press('Enter');
  const told = other.getByRole('dialog', { name: 'Somebody else was faster' });
  await expect(told).toContainText('Lanterns at seven.');
  await told.getByRole('button', { name: /Lanterns at eight/ }).click();
  await expect(told).toBeHidden();
  await expect(cell(page, 'Lantern swim', 2)).toContainText('Lanterns at eight.');
  await other.context().close();
});

test('a spreadsheet with three bad rows is read: all of it, the good ones, or nothing', async ({ page }) => {
  await openPlan(page);
  const stem = `File ${Date.now()}`;
  const lines = [
    'Title,Copy,Goes out at,Status,Notes',
    `${stem} good,They nest by the wall,2031-12-05 09:00,idea,x`,
    `${stem} when,Some copy,some day soon,idea,`,
    `${stem} what,Some copy,2031-12-06 09:00,almost,`,
    `${stem} who,Some copy,next,nearly,`,
  ];
  const file = { name: 'plan.csv', mimeType: 'text/csv', buffer: Buffer.from(lines.join('\r\n')) };
  await page.getByLabel('File to read').setInputFiles(file);
  const dialog = page.getByRole('dialog', { name: /Read plan.csv/ });
  await expect(dialog.getByRole('status')).toContainText('4 rows, 3 with something that cannot be read');
  await expect(dialog.getByText('This is none of the choices.')).toHaveCount(2);
  await expect(dialog.getByLabel('Where Notes goes')).toHaveValue('');
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect(grid(page).getByText(stem)).toHaveCount(0);
  await page.getByLabel('File to read').setInputFiles(file);
  await dialog.getByRole('button', { name: 'Add 1 row, without the others' }).click();
  await expect(page.getByText('1 row was added from plan.csv.')).toBeVisible();
  await page.getByRole('searchbox', { name: 'Find in the rows' }).fill(stem);
  await expect(grid(page).getByRole('row').filter({ hasText: stem })).toHaveCount(1);
});

test('a sheet is made with columns of its own, and its rows are offered as a source', async ({ page }) => {
  await enter(page, 'Marram Bakehouse');
  await page.getByRole('link', { name: 'Sheets', exact: true }).click();
  await page.getByRole('button', { name: 'New sheet' }).click();
  const dialog = page.getByRole('dialog', { name: 'A new sheet' });
  const name = `Loaves ${Date.now()}`;
  await dialog.getByLabel('Name', { exact: true }).fill(name);
  await dialog.getByRole('button', { name: 'a column' }).click();
  await dialog.getByLabel('Name of column 2').fill('Goes out at');
  await dialog.getByLabel('What Goes out at holds').selectOption('moment');
  await dialog.getByRole('button', { name: 'Make the sheet' }).click();
  await expect(page.getByRole('heading', { name })).toBeVisible();
  await expect(page.getByText('No rows yet.')).toBeVisible();
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(
    violations.map((each) => `${each.id} ${each.nodes.map((node) => node.html.slice(0, 160)).join(' | ')}`),
  ).toEqual([]);
  await page.getByRole('button', { name: 'Workflow', exact: true }).click();
  await expect(page.getByRole('grid', { name: /Run sheet/ })).toBeVisible();
  await expect(page.getByLabel('Name of the workflow')).toHaveValue(`Rows of ${name}`);
});

test('on a small screen a row is chosen from a list and written', async ({ browser }) => {
  const page = await (await browser.newContext({ viewport: { width: 390, height: 800 } })).newPage();
  await enter(page);
  await page.getByRole('link', { name: 'Sheets', exact: true }).click();
  await page.getByRole('link', { name: 'Content plan', exact: true }).first().click();
  await page
    .getByRole('list', { name: 'Rows' })
    .getByRole('button', { name: /A film of the new rail/ })
    .click();
  const panel = page.getByRole('complementary', { name: 'The chosen row' });
  await panel.getByLabel('Hashtags').fill('#rail');
  await panel.getByLabel('Copy').click();
  await expect(panel.getByText(/changed Hashtags/)).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.context().close();
});

test('a sheet is made of a table elsewhere and kept in step with it: written on either side, it is on both', async ({
  page,
}) => {
  await enter(page);
  await page.getByRole('link', { name: 'Sheets', exact: true }).click();
  await page.getByRole('button', { name: 'From a table elsewhere' }).click();
  await page.getByLabel('The table').selectOption('Marketing · Trends');
  await page.getByLabel('Name of the sheet').fill('What is talked about');
  await page.getByRole('button', { name: 'Make the sheet' }).click();
  const bar = page.getByRole('region', { name: 'In step' });
  await expect(bar.getByText('In step with')).toBeVisible({ timeout: 20_000 });

  const title = `Herons ${Date.now()}`;
  await page.getByRole('button', { name: 'A row', exact: true }).click();
  await page.keyboard.type(title);
  await page.keyboard.press('Enter');
  await saved(page);
  // As whoever opens the table there sees it.
  const address = (await bar.getByRole('link', { name: 'Marketing · Trends' }).getAttribute('href'))!;
  await expect.poll(async () => (await page.request.get(address)).text(), { timeout: 30_000 }).toContain(title);
  const html = await (await page.request.get(address)).text();
  const row = new RegExp(`<tr data-row="(\\d+)">(?:(?!</tr>)[\\s\\S])*${title}`).exec(html)![1];
  const first = /<th>([^<]+?) </.exec(html)![1]!;
  const act = { do: 'change-row', id: Number(row), cells: { [first]: `${title}, seen twice` } };
  expect((await page.request.post(`${process.env.LAGOON_URL}/control/api/acts`, { data: { act } })).ok()).toBe(true);
  await bar.getByRole('button', { name: 'Compare now' }).click();
  await expect(grid(page).getByText(`${title}, seen twice`)).toBeVisible({ timeout: 30_000 });
  await page.reload();
  await expect(grid(page).getByText(`${title}, seen twice`)).toBeVisible();

  await bar.getByRole('button', { name: 'Change' }).click();
  await page.getByRole('button', { name: 'Stop keeping in step' }).click();
  await expect(bar).toBeHidden();
  await expect(grid(page).getByText(`${title}, seen twice`)).toBeVisible();
});
