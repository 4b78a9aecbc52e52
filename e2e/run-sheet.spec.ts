import { expect, test } from './test.ts';
import { cell, enter, openWorkflow, playa, rowHeader, saved } from './steps.ts';
import { choose } from './pickers.ts';

// Each test has a draft of its own: sunrise swims, with nowhere to go yet.
test.beforeEach(async ({ page }) => {
  await enter(page);
  const { csrf } = (await (await page.request.get(`${playa()}/api/me`)).json()) as { csrf: string };
  const made = await page.request.post(`${playa()}/api/brands/1/workflows`, {
    headers: { 'x-csrf-token': csrf },
    data: {
      name: 'Swims under test',
      definition: {
        schema: 1,
        sources: [{ id: 'source', watch: 1 }],
        steps: [
          {
            id: 'check',
            verb: 'check',
            condition: {
              type: 'group',
              match: 'all',
              items: [{ type: 'test', field: 'title', op: 'starts', value: 'Sunrise swim' }],
            },
          },
          { id: 'words', verb: 'compose', name: 'caption', text: '{$title}. {$description}' },
          { id: 'page', verb: 'publish', outlets: [], caption: 'caption', card: 'link' },
        ],
      },
    },
  });
  const { id } = (await made.json()) as { id: number };
  await page.goto(`${playa()}/1/workflows/${id}`);
  await expect(page.getByRole('grid', { name: /Run sheet/ })).toBeVisible();
});

test('steps are added, switched off, moved, doubled, removed; undone and redone; and saved', async ({ page }) => {
  await expect(rowHeader(page, 2)).toContainText('Check title starts with “Sunrise swim”');
  await expect(cell(page, 2, 0)).toContainText('stops');

  // Off: struck through, and shows what would have been.
  await rowHeader(page, 2).click();
  await page.keyboard.press('x');
  await expect(cell(page, 2, 0)).toContainText('off, would be: stops');
  await expect(cell(page, 3, 0)).toContainText('Breathing on both sides');
  await page.keyboard.press('x');
  await expect(cell(page, 3, 0)).toHaveText('not reached');

  // Doubled, moved, removed.
  await page.keyboard.press('Control+d');
  await expect(rowHeader(page, 3)).toContainText('Check title');
  await page.keyboard.press('Alt+ArrowDown');
  await expect(rowHeader(page, 4)).toContainText('Check title');
  await page.keyboard.press('Delete');
  await expect(page.getByRole('rowheader').filter({ hasText: 'Check' })).toHaveCount(1);
  for (let n = 0; n < 3; n++) await page.keyboard.press('Control+z');
  await expect(page.getByRole('rowheader').filter({ hasText: 'Check' })).toHaveCount(1);
  await page.keyboard.press('Control+Shift+z');
  await expect(page.getByRole('rowheader').filter({ hasText: 'Check' })).toHaveCount(2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('rowheader').filter({ hasText: 'Check' })).toHaveCount(1);

  // By hand: the row is dragged by its handle.
  const grip = rowHeader(page, 3).locator('.grip');
  await rowHeader(page, 3).hover();
  await grip.hover();
  await page.mouse.down();
  const target = (await rowHeader(page, 2).boundingBox())!;
  await page.mouse.move(target.x + 20, target.y + 10, { steps: 8 });
  await page.mouse.move(target.x + 20, target.y + 4, { steps: 4 });
  await page.mouse.up();
  await expect(rowHeader(page, 2)).toContainText('Compose');
  await expect(rowHeader(page, 3)).toContainText('Check');
  await saved(page);
  await page.reload();
  await expect(rowHeader(page, 2)).toContainText('Compose');
});

test('the arrows move over the sheet, Enter edits, Escape returns', async ({ page }) => {
  await cell(page, 1, 0).click();
  // Over the rules, which stand between the sources and the steps.
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect(cell(page, 2, 0)).toBeFocused();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(cell(page, 2, 2)).toBeFocused();
  // Moving along the row keeps the step and shows the other item.
  await expect(page.getByRole('region', { name: 'The chosen item' })).toContainText('Tumble turns without the panic');
  await page.keyboard.press('Home');
  await expect(rowHeader(page, 2)).toBeFocused();
  await page.keyboard.press('End');
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  const words = page.getByRole('textbox', { name: 'The words of the caption' });
  await expect(words).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(rowHeader(page, 3)).toBeFocused();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('previous and next item with a problem');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find or do' }).fill('old quay');
  await expect(page.getByRole('option', { name: /Old Quay films/ }).first()).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Name of the workflow')).toHaveValue('Old Quay films');
});

test('a check asks any field in the way its type wants, and says why things stop', async ({ page }) => {
  await page.getByRole('rowheader').filter({ hasText: 'Check' }).click();
  await page.getByRole('button', { name: 'a question' }).click();
  const fields = page.getByRole('combobox', { name: 'Field' });
  await choose(fields.nth(1), 'Length');
  await expect(page.getByRole('combobox', { name: 'Question' }).nth(1)).toHaveValue('longer');
  await page.getByRole('combobox', { name: 'Question' }).nth(1).selectOption({ label: 'is under' });
  await page.getByLabel('Compared with').nth(1).fill('50 s');
  await page.getByRole('combobox', { name: 'How many must hold' }).selectOption('any');
  const row = page.getByRole('row').filter({ hasText: 'Check' });
  await expect(row.getByRole('rowheader')).toContainText('title starts with “Sunrise swim” or length is under 50 s');
  await expect(row.getByRole('gridcell').nth(1)).toContainText('passes');
  await expect(row.getByRole('gridcell').first()).toContainText(
    'stops Title does not start with “Sunrise swim”, 6:10 is not under 50 s',
  );
  await page.getByLabel('Compared with').nth(1).fill('soonish');
  await expect(page.getByText('write 2 min, 1:30 or 90 s')).toBeVisible();
  // Nested fields are there too.
  await choose(fields.nth(1), 'Thumbnail · width');
  await page.getByRole('combobox', { name: 'Question' }).nth(1).selectOption({ label: 'is above' });
  await page.getByLabel('Compared with').nth(1).fill('600');
  await expect(row.getByRole('gridcell').first()).toContainText('passes 640');
});

test('words that cannot be read say where, keep what was typed, and stop nothing else', async ({ page }) => {
  await page.getByRole('rowheader').filter({ hasText: 'Compose' }).click();
  await page.getByRole('button', { name: 'Show as text' }).click();
  const text = page.getByRole('textbox', { name: 'The words of the caption, as text' });
  await text.fill('Hello {$title');
  await expect(page.getByRole('alert')).toContainText('cannot be read at character 14');
  // What is not known is marked where it stands, and one is taken there.
  await text.fill('Hello {$title :nonsense}, and more');
  const alert = page.getByRole('alert');
  await expect(alert).toContainText('There is no tweak called “nonsense”.');
  await expect(alert.locator('mark')).toHaveText(':nonsense');
  await alert.getByRole('button', { name: 'Go there' }).click();
  await expect(text).toBeFocused();
  expect(
    await text.evaluate((area: HTMLTextAreaElement) => area.value.slice(area.selectionStart, area.selectionEnd)),
  ).toBe(':nonsense');
  await text.fill('Hello {$title');
  await expect(page.getByRole('row').filter({ hasText: 'Compose' }).getByRole('gridcell').nth(1)).toContainText(
    'Cannot be read.',
  );
  await saved(page);
  await page.reload();
  await page.getByRole('rowheader').filter({ hasText: 'Compose' }).click();
  await expect(page.getByRole('textbox', { name: 'The words of the caption, as text' })).toHaveValue('Hello {$title');
  await page.getByRole('textbox', { name: 'The words of the caption, as text' }).fill('Hello {$title}');
  await page
    .getByRole('button', { name: 'Show tokens' })
    .or(page.getByRole('textbox', { name: 'The words of the caption' }))
    .first()
    .click();
  await expect(page.getByRole('textbox', { name: 'The words of the caption' })).toContainText('Title');
});

test('it cannot go live while something would harm, and says what', async ({ page }) => {
  await page.getByRole('button', { name: 'Go live' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('To settle first');
  await expect(dialog).toContainText('Choose at least one outlet to publish to.');
  await expect(dialog.getByRole('button', { name: 'Go live' })).toBeDisabled();
  await dialog.getByRole('button', { name: 'go there' }).click();
  await expect(page.getByRole('region', { name: 'The chosen step' })).toContainText('Post on');
});

test('a rehearsal goes through all stored items and filters them', async ({ page }) => {
  await openWorkflow(page, 'Lesson videos to the page');
  await page.getByRole('radio', { name: 'Rehearsal' }).click();
  const summary = page.getByRole('region', { name: 'Summary' });
  await expect(summary).toContainText(/3\d items/);
  await expect(summary).toContainText(/stopped at 2/);
  await summary.getByLabel('Show').selectOption('Stopped');
  await expect(page.getByRole('columnheader').nth(1)).toContainText('Sunrise swim');
  // Far along the row only what is in view is drawn, and the last item can be reached.
  await summary.getByLabel('Show').selectOption('All');
  await cell(page, 2, 0).click();
  await page.keyboard.press('End');
  await expect(page.getByRole('columnheader').filter({ hasText: 'Open day: all the questions' })).toBeVisible();
  expect(await page.getByRole('columnheader').count()).toBeLessThan(20);
});

test('changes to a live workflow are shown before they are applied, and become a version', async ({ page }) => {
  await openWorkflow(page, 'Lesson videos to the page');
  await expect(page.getByRole('button', { name: 'Apply to live' })).toBeDisabled();
  await page.getByRole('rowheader').filter({ hasText: 'Compose' }).click();
  await page.getByRole('textbox', { name: 'The words of the caption' }).click();
  await page.keyboard.press('Control+End');
  await page.keyboard.type(' #seaswimming');
  await page.getByRole('button', { name: 'Apply to live' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('What changes, for the same items');
  await expect(dialog.locator('ins').first()).toContainText('#seaswimming');
  await dialog.getByRole('button', { name: 'Apply to live' }).click();
  await expect(page.getByText(/v2 live/)).toBeVisible();
});
