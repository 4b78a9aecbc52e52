// What a person decides is what goes out: nothing moves under the pointer, what is typed stays, and a pause loses nothing.
import { expect, test } from './test.ts';
import {
  cellOf,
  enter,
  headersOf,
  lagoon,
  moveCaret,
  openDraft,
  openWorkflow,
  outletsOf,
  playa,
  saved,
} from './steps.ts';
import type { Page } from '@playwright/test';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';

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
  await moveCaret(page, 'Control+a');
  // The list goes on over a space, until what is meant is found.
  await page.keyboard.type('Seen: /thumbnail wi');
  await expect(page.getByRole('listbox', { name: 'What to put in' })).toContainText('Thumbnail · width');
  await page.keyboard.press('Escape');
  await moveCaret(page, 'Control+a');
  await page.keyboard.type('A film for you');
  await saved(page);
  await page.getByRole('button', { name: /Go live/ }).click();
  await expect(dialog).toContainText('“Lesson videos to the page” posts from Tern Bay channel to Tern Bay Lidos');
  await expect(dialog).toContainText('more than 20 in an hour or 60 in a day');
  await expect(dialog.getByRole('button', { name: 'Go live' })).toBeEnabled();
});

test('a workflow that would set itself off is not let go live', async ({ page }) => {
  await openDraft(page, 'Goes round', (outlet) => [
    { id: 'words', verb: 'compose', name: 'caption', text: 'Again: {$title}' },
    { id: 'post', verb: 'publish', outlets: [outlet('page', /Tern Bay/)], caption: 'caption', card: null },
  ]);
  // What its own photos say goes to the photos again.
  const at = page.url().match(/\/(\d+)\/workflows\/(\d+)/)!;
  const api = `${playa()}/api/brands/${at[1]}/workflows`;
  interface Listed {
    id: number;
    name: string;
  }
  const { workflows } = (await (await page.request.get(api)).json()) as { workflows: Listed[] };
  const board = workflows.find(({ name }) => name === 'Own photos to the table')!;
  const { draft } = (await (await page.request.get(`${api}/${board.id}`)).json()) as {
    draft: { sources: { id: string; watch: number }[] };
  };
  const photos = (await outletsOf(page)).filter(({ kind }) => kind === 'photos');
  const feed = photos.find(({ name }) => name.startsWith('@ternbaylidos'))!.id;
  const media = [{ type: 'picture', from: 'picture.url', alt: 'A photo' }];
  const steps = [
    { id: 'words', verb: 'compose', name: 'caption', text: 'Again: {$caption}' },
    { id: 'post', verb: 'publish', outlets: [feed], caption: 'caption', card: null, media },
  ];
  const definition = { schema: 1, sources: draft.sources, steps, settings: { ...NO_SETTINGS, own: 'start' } };
  const answer = await page.request.put(`${api}/${at[2]}/draft`, {
    headers: await headersOf(page),
    data: { name: 'Goes round', definition, revision: 1 },
  });
  expect(answer.ok()).toBe(true);
  await page.reload();
  await page.getByRole('button', { name: /Go live/ }).click();
  const dialog = page.getByRole('dialog', { name: 'Go live' });
  await expect(dialog).toContainText('it would go round without end');
  await expect(dialog.getByRole('button', { name: 'Go live' })).toBeDisabled();
});

test('a row that is written into shows what changes, old beside new, by the names of its columns', async ({ page }) => {
  await enter(page);
  await openWorkflow(page, 'The plan, posted');
  const written = page.getByRole('gridcell').filter({ hasText: 'in this row: Status: ready → posted' }).first();
  await expect(written).toBeVisible();
  await expect(written).not.toContainText('Caption');
  await written.click();
  await expect(page.getByRole('combobox', { name: 'Which row' })).toHaveValue('own');
  await expect(page.getByText('Only these columns are written.')).toBeVisible();
});

test('a secret address that is replaced goes on working, and can be taken back', async ({ page }) => {
  await enter(page);
  await openWorkflow(page, 'Closures to the page');
  await page.getByRole('rowheader').filter({ hasText: 'Pool closures' }).click();
  const shown = page.getByRole('textbox', { name: 'The secret address' });
  await expect(shown).toHaveValue(/^http/);
  const address = await shown.inputValue();
  await page.getByRole('button', { name: 'Another …' }).click();
  await page.getByRole('button', { name: 'Make another', exact: true }).click();
  await expect(page.getByText('The address before this one works until')).toBeVisible();
  await expect(shown).not.toHaveValue(address);
  const told = await page.request.post(address, { data: { number: 990, severity: 'minor', pools: [] } });
  expect(told.status()).toBe(202);
  await page.getByRole('button', { name: 'Go back to it' }).click();
  await expect(shown).toHaveValue(address);
});

test('addresses are understood as people copy them, and what cannot be watched is said', async ({ page }) => {
  await enter(page);
  await page.getByRole('link', { name: 'Workflows', exact: true }).click();
  await page.getByRole('button', { name: 'New workflow' }).click();
  const source = page.getByRole('textbox', { name: 'What to watch' });
  const found = page.getByText(/Found .*Is this the one\?/);
  for (const pasted of [
    `${lagoon()}/video/ON/ternbaylidos?&utm_source=mail&`,
    `${lagoon()}/video/on/tern baylidos`.replace('tern bay', 'ternbay '),
    'Tern Bay channel',
  ]) {
    await source.fill(pasted);
    await page.getByRole('button', { name: 'Find', exact: true }).click();
    await expect(found, pasted).toContainText('Found Tern Bay channel');
    await source.fill('');
  }
});
