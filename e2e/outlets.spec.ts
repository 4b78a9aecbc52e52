import { expect, test, type Page } from './test.ts';
import { beAtLagoon, enter, lagoon, openWorkflow, saved } from './steps.ts';

const toAccounts = async (page: Page) => {
  await page.getByRole('link', { name: 'Accounts', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Accounts', exact: true })).toBeVisible();
};
/** The row of the account at a network. */
const rowAt = (page: Page, network: string) => page.getByRole('row').filter({ hasText: `at ${network}` });

async function connect(page: Page, network: string) {
  await page.getByRole('button', { name: 'Connect an account' }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: new RegExp(`^${network}`) })
    .click();
}
/** Makes a key or a bot on the service's own page, and gives back its token. */
async function keyAt(page: Page, path: string, button: string): Promise<{ token: string; number: string }> {
  const other = await page.context().newPage();
  await other.goto(lagoon() + path);
  await other.getByLabel('Name').fill('For Playa');
  await other.getByRole('button', { name: button }).click();
  const token = (await other.locator('[data-key]').last().textContent())!;
  const number = /number is (\d+)/.exec((await other.locator('body').textContent())!)?.[1] ?? '';
  await other.close();
  return { token, number };
}

test('connects by consent, by key and with a bot that must first become an administrator', async ({ page }) => {
  await beAtLagoon(page, 'Ines Duarte');
  await enter(page, 'Marram Bakehouse');
  await toAccounts(page);

  await connect(page, 'Lagoon Boards');
  await expect(page.getByText('make boards and put pictures on them')).toBeVisible();
  await page.getByRole('button', { name: 'Allow' }).click();
  await expect(rowAt(page, 'Lagoon Boards')).toContainText('Bread · Rye');
  await expect(rowAt(page, 'Lagoon Boards')).toContainText('Works');

  // A wrong key is said to be wrong, and what was typed stays.
  const { token } = await keyAt(page, '/helpdesk/keys', 'Make a key');
  await connect(page, 'Lagoon Helpdesk');
  const key = page.getByRole('dialog').getByLabel('Key');
  await key.fill('hel_nonsense');
  await page.getByRole('button', { name: 'Connect', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('copied as a whole');
  await expect(key).toHaveValue('hel_nonsense');
  await key.fill(token);
  await page.getByRole('button', { name: 'Connect', exact: true }).click();
  await expect(rowAt(page, 'Lagoon Helpdesk')).toContainText('Bakery');
  await expect(page.locator('body')).not.toContainText(token);

  // A bot without permission says so on choosing, and is mended without leaving anything half done.
  const bot = await keyAt(page, '/broadcast/bots', 'Make a bot');
  await connect(page, 'Lagoon Broadcast');
  await page.getByRole('dialog').getByLabel('Token of the bot').fill(bot.token);
  await page.getByRole('button', { name: 'Connect', exact: true }).click();
  const row = rowAt(page, 'Lagoon Broadcast');
  await row.getByRole('button', { name: 'Add one …' }).click();
  await row.getByLabel('Address, in any form').fill(`${lagoon().replace('http://', '')}/broadcast/c/marrambread`);
  await row.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(row).toContainText('The bot is not an administrator here. Add it, then check again.');
  const there = await page.context().newPage();
  await there.goto(`${lagoon()}/broadcast/c/marrambread`);
  await there.getByLabel('Number of a bot').fill(bot.number);
  await there.getByRole('button', { name: 'Make it an administrator' }).click();
  await row.getByRole('button', { name: 'Check again' }).click();
  await expect(row).not.toContainText('not an administrator');

  // A test is marked as one, and is taken away again.
  await row.getByRole('button', { name: 'What can be done with Bread today' }).click();
  await row.getByRole('button', { name: 'Send a test' }).click();
  await expect(row.getByText('A test went out')).toBeVisible();
  await there.goto(`${lagoon()}/broadcast/c/marrambread`);
  await expect(there.getByText('This is a test from Playa. Please take no notice.')).toBeVisible();
  await row.getByRole('button', { name: 'Remove it again' }).click();
  await expect(page.getByText('The test is gone again.')).toBeVisible();
  await there.reload();
  await expect(there.getByText('This is a test from Playa.')).toHaveCount(0);
});

test('a revoked account pauses, tells, and catches up once it is connected again', async ({ page }) => {
  test.slow();
  await beAtLagoon(page, 'Ana Prata');
  await page.goto(`${lagoon()}/control`);
  await page.getByLabel('Take back what people have given to applications').selectOption({ label: 'at Microblog' });
  await page.getByRole('button', { name: 'Revoke' }).click();
  await page.goto(`${lagoon()}/microblog/@harbourmaster`);
  await page.getByLabel('Write a note').fill('The bridge stays up until five.');
  await page.getByRole('button', { name: 'Write' }).click();
  await expect(page.getByText('The bridge stays up until five.')).toBeVisible();
  await beAtLagoon(page, 'Mo Okoro');

  await enter(page);
  await expect(page.getByText(/Lagoon Microblog no longer accepts the sign-in/).first()).toBeVisible({
    timeout: 60_000,
  });
  await toAccounts(page);
  const row = rowAt(page, 'Lagoon Microblog');
  await expect(row).toContainText('Neighbours’ notes');
  await row.getByRole('button', { name: 'Connect again' }).click();
  await page.getByRole('button', { name: 'Allow' }).click();
  await expect(row).toContainText('Works');

  // What was written meanwhile arrives in the room, once.
  const room = await page.context().newPage();
  await room.goto(`${lagoon()}/rooms/`);
  await room.getByRole('link', { name: 'Tern Bay crew' }).click();
  await room.getByRole('link', { name: '# general' }).click();
  await expect(async () => {
    await room.reload();
    await expect(room.getByText('The bridge stays up until five.')).toHaveCount(1);
  }).toPass({ timeout: 60_000 });
});

test('makes a board while choosing where to publish', async ({ page }) => {
  await enter(page);
  await openWorkflow(page, 'Own photos to the board');
  await page.getByRole('rowheader').filter({ hasText: 'Publish' }).click();
  await page.getByRole('button', { name: 'Somewhere that is not listed …' }).click();
  const account = page.getByLabel('At which account');
  await account.selectOption(await account.getByRole('option', { name: /pinning/ }).getAttribute('value'));
  await page.getByLabel('Name of the board').fill('Winter light');
  await page.getByRole('button', { name: 'Make the board' }).click();
  await expect(page.getByRole('checkbox', { name: /Winter light/ })).toBeChecked();
  await saved(page);
  const there = await page.context().newPage();
  await there.goto(`${lagoon()}/boards/`);
  await expect(there.getByRole('link', { name: 'Winter light' })).toBeVisible();
});

test('answers reviews of several places, chosen from what an account sees', async ({ page }) => {
  await enter(page);
  await page.getByRole('link', { name: 'Workflows', exact: true }).click();
  await page.getByRole('button', { name: 'New workflow', exact: true }).click();
  await page.getByRole('radio', { name: 'what an account sees' }).check();
  // What all accounts see is searched.
  await page.getByRole('combobox', { name: 'What appears' }).click();
  await page.keyboard.type('new reviews');
  await page.getByRole('option', { name: /new reviews/ }).click();
  await page.getByRole('checkbox', { name: 'Gannet Point Pool' }).check();
  await page.getByRole('checkbox', { name: 'Old Quay Pool' }).check();
  await page.getByRole('button', { name: 'Watch these 2' }).click();
  // Places at which the same is written are one row, which names them.
  const watched = page.getByRole('rowheader').filter({ hasText: 'Watch' });
  await expect(watched).toHaveCount(1);
  await expect(watched).toContainText('Gannet Point Pool');
  await expect(watched).toContainText('Old Quay Pool');
  await saved(page);
});
