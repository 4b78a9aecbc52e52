import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from './test.ts';
import { cellOf, enter, headersOf, lagoon, moveCaret, openDraft, openWorkflow, playa, saved } from './steps.ts';

// Wording captions, as somebody does it who has a page, a microblog and a broadcast channel to fill.

/** A draft of its own for each test: films to a page, a microblog and a broadcast channel. */
async function draft(page: Page, text: string): Promise<void> {
  await openDraft(page, 'Words under test', (outlet) => [
    { id: 'words', verb: 'compose', name: 'caption', text },
    {
      id: 'post',
      verb: 'publish',
      outlets: [
        outlet('page', /^Tern Bay Lidos/),
        outlet('microblog', /ternbaylidos/),
        outlet('broadcast', /Tern Bay water/),
      ],
      caption: 'caption',
      card: 'link',
    },
  ]);
  await page
    .getByRole('rowheader')
    .filter({ hasText: /^\D*\d+\s*Compose/ })
    .click();
  await expect(words(page)).toBeVisible();
}
const words = (page: Page) => page.getByRole('textbox', { name: 'The words of the caption' });
const bench = (page: Page) => page.getByRole('region', { name: 'The chosen step' });
const tab = (page: Page, name: string | RegExp) => page.getByRole('tab', { name });

test('a caption is composed from nothing: fields by a stroke, a tweak that leaves the links out, undone and done again', async ({
  page,
}) => {
  await draft(page, 'x');
  await words(page).click();
  await moveCaret(page, 'Control+a');
  await page.keyboard.type('New lesson: /tit');
  await expect(page.getByRole('option', { name: /^Title/ })).toHaveAttribute('aria-selected', 'true');
  // Whoever does not see the list hears which of how many it is.
  await expect(page.locator('[aria-live=polite]', { hasText: /^\s*Title, 1 of \d+\s*$/ })).toBeAttached();
  await page.keyboard.press('Enter');
  await page.keyboard.type('. /descr');
  await page.keyboard.press('Enter');
  await expect(cellOf(page, 'Compose', 0)).toContainText('New lesson: Breathing on both sides, part 2. Three drills');
  await expect(page.getByRole('group', { name: /The post on/ })).toContainText('Timetable:');
  // The description ends in a block of links; one tweak takes its useful beginning.
  await words(page).locator('.token').last().click();
  const menu = page.getByRole('dialog', { name: 'What to do with this field' });
  await expect(menu.getByRole('radio', { name: /^useful beginning/ })).toContainText('Three drills');
  await menu.getByRole('radio', { name: /^useful beginning/ }).click();
  await expect(words(page)).toContainText('Description · useful beginning');
  await expect(page.getByRole('group', { name: /The post on/ })).not.toContainText('Timetable:');
  await saved(page);
  await page.keyboard.press('Control+z');
  await expect(words(page)).not.toContainText('useful beginning');
  await page.keyboard.press('Control+Shift+z');
  await expect(words(page)).toContainText('useful beginning');
  // A slash in the middle of an address is a slash.
  await moveCaret(page, 'Control+End');
  await page.keyboard.type(' https://lidos.example/a');
  await expect(page.getByRole('listbox')).toHaveCount(0);
});

test('a tweak is told how much, and tokens are copied with all they hold', async ({ page }) => {
  await draft(page, '{$description}');
  await words(page).locator('.token').click();
  const menu = page.getByRole('dialog', { name: 'What to do with this field' });
  await menu.getByRole('radio', { name: /^shortened/ }).click();
  await words(page).locator('.token').click();
  await menu.getByLabel('characters at most').fill('30');
  await menu.getByLabel('characters at most').press('Enter');
  await expect(words(page)).toContainText('Description · shortened: 30');
  await menu.getByRole('button', { name: 'close' }).click();
  await words(page).click();
  await moveCaret(page, 'Control+a');
  await page.keyboard.press('Control+c');
  await moveCaret(page, 'Control+End');
  await page.keyboard.type(' and ');
  await page.keyboard.press('Control+v');
  await expect(words(page).locator('.token')).toHaveCount(2);
  await expect(words(page).locator('.token').last()).toHaveText('Description · shortened: 30');
  await page.getByRole('button', { name: 'Show as text' }).click();
  const text = page.getByRole('textbox', { name: 'The words of the caption, as text' });
  await expect(text).toHaveValue('{$description :shorten most=30} and {$description :shorten most=30}');
});

test('one outlet says it in words of its own, the difference shows, and one click takes them back', async ({
  page,
}) => {
  await draft(page, 'New: {$title} #lidolife');
  await tab(page, /microblog|@ternbaylidos/).click();
  await expect(bench(page)).toContainText('says the words for all, up to 300');
  await page.getByRole('button', { name: 'Give it words of its own' }).click();
  const own = page.getByRole('textbox', { name: /^The words for @ternbaylidos/ });
  await own.click();
  await moveCaret(page, 'Control+End');
  for (let letter = 0; letter < '#lidolife'.length; letter++) await page.keyboard.press('Backspace');
  await page.keyboard.type('now');
  const difference = page.getByLabel('What differs from the words for all');
  await expect(difference.locator('del')).toContainText('lidolife');
  await expect(difference.locator('ins')).toContainText('now');
  // The preview shows the outlet that is worked on; the others keep their words.
  await expect(page.getByRole('group', { name: /The post on @ternbaylidos/ })).toContainText('part 2 now');
  await page.getByRole('combobox', { name: 'On which outlet' }).selectOption({ label: 'Tern Bay Lidos, page' });
  await expect(page.getByRole('group', { name: /The post on Tern Bay Lidos/ })).toContainText('#lidolife');
  await expect(tab(page, /@ternbaylidos/)).toContainText('own words');
  await expect(page.getByRole('rowheader').filter({ hasText: 'other words on @ternbaylidos' })).toBeVisible();
  await page.getByRole('button', { name: 'back to the words for all' }).click();
  await expect(tab(page, /@ternbaylidos/)).not.toContainText('own words');
});

test('what is too long somewhere is counted, found and made to fit', async ({ page }) => {
  await draft(page, '{$title}: {$description} {$link}');
  const count = page.getByRole('button', { name: /^\d+ of 8 too long on @ternbaylidos/ });
  await expect(count).toBeVisible();
  const many = Number((await count.textContent())!.trim().split(' ')[0]);
  expect(many).toBeGreaterThan(0);
  await count.click();
  await expect(page.getByRole('radio', { name: 'Rehearsal' })).toBeChecked();
  await expect(page.getByRole('combobox', { name: 'Show' })).toHaveValue('too-long');
  await expect(page.getByRole('option', { name: /^Too long on @ternbaylidos/ })).toBeAttached();
  await expect(cellOf(page, 'Publish', 0)).toContainText('more than @ternbaylidos');
  await cellOf(page, 'Compose', 0).click();
  await page.getByRole('combobox', { name: 'Show' }).selectOption('all');
  await page.getByRole('radio', { name: 'Samples' }).click();
  await page.getByRole('button', { name: 'Shorten them where they are too long' }).click();
  await expect(count).toHaveCount(0);
  await tab(page, /@ternbaylidos/).click();
  const post = page.getByRole('group', { name: /The post on @ternbaylidos/ });
  // The link stands whole at the end, whatever gave way before it.
  await expect(post).toContainText(/http:\/\/127\.0\.0\.1:\d+\/video\/v\/[\w-]+\s*$/);
  await expect(page.getByRole('region', { name: 'Preview' })).toContainText(
    /Made to fit: Description shortened.*, \d+ → \d+ of 300/,
  );
});

test('words are bold where a network knows it, folded where it folds, and the linked page shows what it says of itself', async ({
  page,
}) => {
  await draft(page, 'New: {$title} <b> {$description} {$description}');
  await words(page).locator('.token').first().click();
  await page.keyboard.press('Escape');
  await words(page).click({ position: { x: 20, y: 14 } });
  await moveCaret(page, 'Home', 'Shift+ArrowRight', 'Shift+ArrowRight', 'Shift+ArrowRight');
  await page.keyboard.press('Control+b');
  await expect(page.getByRole('button', { name: 'Bold' })).toHaveAttribute('aria-pressed', 'true');
  const preview = page.getByRole('region', { name: 'Preview' });
  await page.getByRole('combobox', { name: 'On which outlet' }).selectOption({ label: 'Tern Bay water' });
  await expect(preview.locator('.font-\\[650\\]', { hasText: /^New$/ })).toBeVisible();
  await expect(preview).toContainText('<b>');
  await page.getByRole('combobox', { name: 'On which outlet' }).selectOption({ label: 'Tern Bay Lidos, page' });
  await expect(preview.locator('.font-\\[650\\]', { hasText: /^New$/ })).toHaveCount(0);
  await expect(preview).toContainText('Readers see the first 480 characters');
  await preview.getByRole('button', { name: 'more' }).click();
  await expect(preview.getByRole('button', { name: 'less' })).toBeVisible();
  // Open Graph data of the film's page at Lagoon.
  await expect(preview).toContainText('Lagoon Video');
});

test('thanks are worded by stars, in rows, from the keyboard alone', async ({ page }) => {
  await enter(page);
  await openWorkflow(page, 'Thanks by stars');
  await page.getByRole('rowheader').filter({ hasText: 'Compose thanks' }).click();
  await page.keyboard.press('Enter');
  const few = page.getByRole('textbox', { name: 'The words when it is 1 or 2' });
  await expect(few).toBeFocused();
  await moveCaret(page, 'Control+Home');
  await page.keyboard.type('Oh no. ');
  await expect(page.getByRole('gridcell').filter({ hasText: 'Oh no. We are sorry' }).first()).toBeVisible();
  // The others keep their words.
  await expect(page.getByRole('gridcell').filter({ hasText: 'Thank you, Teo' }).first()).toBeVisible();
  // Back over a token selects it; Enter opens what can be done with it; Escape goes back to the words.
  await moveCaret(page, 'Control+End', 'ArrowLeft');
  await expect(few.locator('.ProseMirror-selectednode')).toHaveCount(1);
  await page.keyboard.press('Enter');
  const menu = page.getByRole('dialog', { name: 'What to do with this field' });
  await expect(menu.getByRole('radio', { name: /^as it is/ })).toBeFocused();
  await expect(menu).toContainText('Warmly, your Tern Bay crew');
  await page.keyboard.press('Escape');
  await expect(few).toBeFocused();
  await page.getByRole('button', { name: 'another value' }).click();
  const keys = page.getByRole('combobox', { name: 'Values of row 3, separated by commas' });
  await keys.fill('3, 4');
  // Leaving the field keeps it; Enter may only close the list of suggestions.
  await keys.press('Tab');
  await expect(page.getByRole('textbox', { name: 'The words when it is 3 or 4' })).toBeVisible();
  await page.getByRole('button', { name: 'Remove row 3' }).click();
  await page.getByRole('button', { name: 'one wording again' }).click();
  await expect(words(page)).toContainText('Thank you for the');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('textbox', { name: 'The words when it is 5' })).toBeVisible();
});

test('a link says where people came from, by a snippet that all captions share', async ({ page }) => {
  await draft(page, '{$title} {$link}');
  const kept = await page.request.put(`${playa()}/api/brands/1/snippets/spring`, {
    headers: await headersOf(page),
    data: { text: 'spring & summer', revision: null },
  });
  expect(kept.ok()).toBe(true);
  await page.reload();
  await page.getByRole('rowheader').filter({ hasText: 'Compose' }).click();
  await words(page).locator('.token').last().click();
  const menu = page.getByRole('dialog', { name: 'What to do with this field' });
  await menu.getByRole('radio', { name: /^with campaign parameters/ }).click();
  await words(page).locator('.token').last().click();
  await menu.getByLabel('A snippet as the campaign').selectOption('spring');
  await expect(words(page)).toContainText('Link · with campaign parameters: spring');
  await expect(menu.getByRole('radio', { name: /^with campaign parameters/ })).toContainText(
    'utm_campaign=spring+%26+summer',
  );
  await menu.getByRole('button', { name: 'close' }).click();
  await expect(page.getByRole('group', { name: /The post on/ })).toContainText(
    'utm_source=playa&utm_campaign=spring+%26+summer',
  );
  // The snippet knows where it is used.
  await saved(page);
  await page.getByRole('button', { name: 'snippet' }).click();
  await page.getByRole('button', { name: 'New, or change one …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Snippets' });
  await dialog.getByRole('button', { name: /^spring/ }).click();
  await expect(dialog).toContainText('Words under test');
});

test('answers are counted at the place they go to, worded apart for one place, and shown under what was written', async ({
  page,
}) => {
  await enter(page);
  await openWorkflow(page, 'Thanks by stars');
  await expect(page.getByText(/→ \d+ answers/)).toBeVisible();
  const preview = page.getByRole('region', { name: 'Preview' });
  const answer = preview.getByRole('group', { name: 'The answer' });
  const placeShown = async () => /answered by\s+(\S.*)/.exec((await answer.innerText()).split('\n')[0]!)![1]!.trim();
  // Which review stands first depends on the hour; any of another place than Ilse's will do.
  const sorry = page.getByRole('gridcell').filter({ hasText: 'We are sorry, Ilse' }).first();
  await sorry.click();
  await expect(answer).toContainText('We are sorry, Ilse');
  const elsewhere = await placeShown();
  const cells = page
    .getByRole('row')
    .filter({ has: page.getByRole('rowheader').filter({ hasText: 'Compose thanks' }) })
    .getByRole('gridcell')
    .filter({ hasText: /\S/ });
  let place = elsewhere;
  for (let column = 0; place === elsewhere; column++) {
    const cell = cells.nth(column);
    const words = (await cell.innerText()).split(/[\n,!.]/)[0]!.trim();
    await cell.click();
    await expect(answer).toContainText(words);
    place = await placeShown();
  }
  const here = new RegExp(`^${place}`);
  await expect(tab(page, here)).toContainText(/\d+\/1500/);
  await expect(preview.getByLabel(/^\d of 5 stars/)).toBeVisible();
  await tab(page, here).click();
  await expect(bench(page)).toContainText('says the words for all, up to 1500');
  await page.getByRole('button', { name: 'Give it words of its own' }).click();
  await page.getByRole('button', { name: 'one wording again' }).click();
  const own = page.getByRole('textbox', { name: `The words for ${place}` });
  await own.click();
  await moveCaret(page, 'Control+a');
  await page.keyboard.type('The pool thanks you.');
  await expect(answer).toContainText('The pool thanks you.');
  // Other places keep theirs.
  await sorry.click();
  await expect(answer).toContainText('We are sorry, Ilse');
  const undo = page.getByRole('button', { name: 'Undo' });
  while (await undo.isEnabled()) await undo.click();
  await saved(page);
});

test('a field that some items lack is worded for those in one click', async ({ page }) => {
  await draft(page, '{$title}. {$description} {$link}');
  const line = page.getByRole('listitem').filter({ hasText: /Description is empty in \d of 8/ });
  await line.getByRole('button', { name: 'other words then' }).click();
  const empty = page.getByRole('textbox', { name: 'The words when it is empty' });
  const filled = page.getByRole('textbox', { name: 'The words when it is filled' });
  await expect(filled).toContainText('Description');
  await expect(empty).toContainText('Link');
  await expect(empty).not.toContainText('Description');
  await empty.click();
  await moveCaret(page, 'Control+End');
  await page.keyboard.type(' Come and see.');
  await expect(page.getByRole('gridcell').filter({ hasText: 'Come and see.' }).first()).toBeVisible();
});

test('every kind shows the post its own way', async ({ page }) => {
  const kinds = ['page', 'microblog', 'photos', 'board', 'professional', 'room', 'broadcast'];
  let places: number[] = [];
  await openDraft(page, 'Every kind', (outlet) => {
    places = kinds.map((kind) => outlet(kind));
    const text = '{#bold}{$title}{/bold}. {$description} {$link} #lidolife #coldwater';
    const media = [{ type: 'picture', from: 'thumbnail.url', alt: 'From {$title}' }];
    const post = {
      outlets: places,
      caption: 'caption',
      card: 'link',
      title: '{$title}: {$description}',
      fit: true,
      media,
    };
    return [
      { id: 'words', verb: 'compose', name: 'caption', text },
      { id: 'post', verb: 'publish', ...post },
    ];
  });
  await cellOf(page, 'Publish', 0).click();
  const preview = page.getByRole('region', { name: 'Preview' });
  const show = async (kind: string) => {
    const outlet = String(places[kinds.indexOf(kind)]);
    await page.getByRole('combobox', { name: 'On which outlet' }).selectOption(outlet);
    return preview.getByRole('group', { name: /^The post on/ });
  };
  const folded = { page: null, photos: 120, board: 60, professional: 200 };
  for (const [kind, at] of Object.entries(folded)) {
    const post = await show(kind);
    if (at) await expect(preview).toContainText(`Readers see the first ${at} characters`);
    if (at) await expect(post.getByRole('button', { name: 'more' })).toBeVisible();
    await expect(post.locator('.font-\\[650\\]', { hasText: /^Breathing on both sides, part 2$/ })).toHaveCount(0);
  }
  // A board has a title, made to fit it, and leads away; its picture stands above.
  const board = await show('board');
  await expect(board.locator('b', { hasText: /^Breathing on both sides, part 2: Three drills/ })).toBeVisible();
  await expect(preview).toContainText('Made to fit: Description shortened in the title');
  await expect(board).toContainText('leads to http');
  await expect(board.getByRole('img')).toHaveAttribute('alt', 'From Breathing on both sides, part 2');
  // A professional profile takes no picture: its card shows what the page says of itself.
  await expect(await show('professional')).toContainText('Lagoon Video');
  const note = await show('microblog');
  await expect(note).toContainText(/http\S+\/video\/v\/\S+/);
  await expect(preview).toContainText(/Made to fit: .*of 300/);
  for (const kind of ['room', 'broadcast']) {
    const formatted = await show(kind);
    await expect(formatted.locator('.font-\\[650\\]', { hasText: /^Breathing on both sides, part 2$/ })).toBeVisible();
  }
});

test('a snippet is changed where one sees what that changes, and is made anew', async ({ page }) => {
  await enter(page);
  await openWorkflow(page, 'Thanks by stars');
  await page.getByRole('rowheader').filter({ hasText: 'Compose thanks' }).click();
  await page.getByRole('button', { name: 'one wording again' }).click();
  await page.getByRole('button', { name: 'snippet' }).click();
  await page.getByRole('button', { name: 'New, or change one …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Snippets' });
  await dialog.getByRole('button', { name: /^sign-off/ }).click();
  await expect(dialog).toContainText('Thanks by stars');
  await dialog.getByLabel('Says').fill('See you in the water');
  // The answers it would change, before and after.
  const first = dialog.getByRole('row').first();
  await expect(first).toContainText('Thanks by stars');
  await expect(first.getByRole('cell').nth(1)).toContainText('Warmly, your Tern Bay crew');
  await expect(first.getByRole('cell').nth(2)).toContainText('See you in the water');
  await dialog.getByRole('button', { name: 'Change it everywhere' }).click();
  await dialog.getByRole('button', { name: '+ new snippet' }).click();
  await dialog.getByLabel('Name').fill('two words');
  await dialog.getByRole('button', { name: 'Keep it' }).click();
  await expect(dialog).toContainText('has no spaces');
  await expect(dialog).toContainText('Write what it says.');
  await dialog.getByLabel('Name').fill('tags');
  await dialog.getByLabel('Says').fill('#lidolife #seaswimming');
  await dialog.getByRole('button', { name: 'Keep it' }).click();
  await expect(dialog.getByRole('button', { name: /^tags/ })).toContainText('not used yet');
  await dialog.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByRole('gridcell').filter({ hasText: 'See you in the water' }).first()).toBeVisible();
  await words(page).click();
  await moveCaret(page, 'Control+End');
  await page.getByRole('button', { name: 'snippet' }).click();
  await page.getByRole('dialog', { name: 'Snippets' }).getByRole('button', { name: /^tags/ }).click();
  await expect(page.getByRole('gridcell').filter({ hasText: '#lidolife #seaswimming' }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
});

test('a post that is out is put right at its network, and what it said before is kept', async ({ page }) => {
  await enter(page);
  await openWorkflow(page, 'Lesson videos to the page');
  await page.getByRole('radio', { name: 'Happened' }).click();
  await cellOf(page, 'Publish', 0).click();
  const preview = page.getByRole('region', { name: 'Preview' });
  await preview.getByRole('button', { name: /^Edit this post on Tern Bay Lidos/ }).click();
  const says = preview.getByRole('textbox', { name: 'What the post says' });
  await expect(says).toHaveValue(/^New lesson: /);
  await says.fill('New lesson, put right');
  await preview.getByRole('button', { name: 'Edit it there' }).click();
  await expect(preview.getByRole('group', { name: /The post on/ })).toContainText('New lesson, put right');
  await expect(preview).toContainText('edited since');
  await expect(cellOf(page, 'Publish', 0)).toContainText('edited since');
  await expect(preview).toContainText('1 earlier version');
  const other = await page.context().newPage();
  await other.goto(`${lagoon()}/pages/p/tern-bay-lidos`);
  await expect(other.getByText('New lesson, put right')).toBeVisible();

  await preview.getByRole('button', { name: 'Delete it there' }).click();
  await preview.getByRole('button', { name: 'Leave it' }).click();
  await preview.getByRole('button', { name: 'Delete it there' }).click();
  await preview.getByRole('button', { name: 'Delete it on Tern Bay Lidos' }).click();
  await expect(preview).toContainText('deleted since');
  await expect(cellOf(page, 'Publish', 0)).toContainText('deleted since');
  await expect(preview.getByRole('button', { name: 'Delete it there' })).toHaveCount(0);
  await other.reload();
  await expect(other.getByText('New lesson, put right')).toHaveCount(0);
  await other.close();
});

test('the composer meets WCAG 2.2 AA as far as a machine can tell, with its lists open', async ({ page }) => {
  await draft(page, 'New: {$title} {$link :campaign}');
  const check = async () => {
    const { violations } = await new AxeBuilder({ page })
      .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
      .analyze();
    expect(
      violations.map((each) => `${each.id}: ${each.nodes.map((node) => node.target.join(' ')).join(', ')}`),
    ).toEqual([]);
  };
  await check();
  // One that can be told something, and told by a snippet.
  await words(page).locator('.token').last().click();
  await expect(page.getByRole('dialog', { name: 'What to do with this field' })).toBeVisible();
  await expect(page.getByLabel('A snippet as the campaign')).toBeVisible();
  await check();
  await page.keyboard.press('Escape');
  await moveCaret(page, 'Control+End');
  await page.keyboard.type(' /');
  await expect(page.getByRole('listbox', { name: 'What to put in' })).toBeVisible();
  await check();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'by value' }).click();
  await expect(page.getByRole('group', { name: /by value/ })).toBeVisible();
  await check();
});
