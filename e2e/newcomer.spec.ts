import { expect, test } from './test.ts';
import { beAtLagoon, cell, chooseBrand, lagoon, moveCaret, playa, saved, upload } from './steps.ts';

test('from nothing to a first post, as somebody new', async ({ page }) => {
  // Signs in.
  await page.goto(playa());
  await page.getByLabel('Email').fill('mo@ternbay.example');
  await page.getByLabel('Password').fill('wrong');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toHaveText('The address and the password do not belong together.');
  await page.getByLabel('Password').fill('nine-degrees-and-rising');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Needs you' })).toBeVisible();
  await chooseBrand(page, 'Marram Bakehouse');
  await expect(page.getByRole('heading', { name: 'Begin here' })).toBeVisible();

  // Connects both accounts through their consent pages.
  await page.getByRole('link', { name: 'Connect an account' }).click();
  await page.getByRole('button', { name: 'Connect the first one' }).click();
  await page.getByRole('button', { name: /^Lagoon Pages/ }).click();
  await page.getByRole('button', { name: 'Ines Duarte' }).click();
  await expect(page.getByText('post, edit and delete on them')).toBeVisible();
  await page.getByRole('button', { name: 'Allow' }).click();
  const name = page.getByLabel('Name of the account of Ines Duarte');
  await expect(name).toHaveValue(/^Ines Duarte, for posting, since \w+ \d{4}$/);
  await expect(page.getByRole('cell', { name: 'Marram Bakehouse' })).toBeVisible();
  await name.fill('Bakehouse page, since the autumn');
  await name.press('Enter');
  await expect(page.getByText('Renamed.')).toBeVisible();
  await page.getByRole('button', { name: 'Connect an account' }).click();
  await page.getByRole('button', { name: /^Lagoon Video/ }).click();
  await page.getByRole('button', { name: 'Allow' }).click();
  await expect(page.getByLabel('Name of the account of Ines Duarte')).toHaveCount(2);

  // Makes the workflow, pasting a messy address.
  await page.getByRole('link', { name: 'Workflows', exact: true }).click();
  await page.getByRole('button', { name: 'Make the first one' }).click();
  const source = page.getByRole('textbox', { name: 'What to watch' });
  await source.fill('http://127.0.0.1:1/nothing-here');
  await page.getByRole('button', { name: 'Find', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('private network');
  await source.fill(
    `  our films: <${lagoon().replace('http://', '')}/video/on/marrambakehouse/films?utm_source=mail>. `,
  );
  await page.getByRole('button', { name: 'Find', exact: true }).click();
  await expect(page.getByText('Found Marram Bakehouse. Is this the one?')).toBeVisible();
  await expect(page.getByText('Rye, overnight')).toBeVisible();
  await page.getByRole('button', { name: 'Watch Marram Bakehouse' }).click();
  await expect(cell(page, 2, 0)).toContainText('Rye, overnight');

  // Sees cells change while typing, in every column.
  const words = page.getByRole('textbox', { name: 'The words of the caption' });
  await words.click();
  await page.keyboard.press('Control+Home');
  await page.keyboard.type('Fresh: ');
  await expect(cell(page, 2, 0)).toContainText('Fresh: Rye, overnight');
  await expect(cell(page, 2, 2)).toContainText('Fresh: Why the oven faces north');
  await moveCaret(page, 'Control+End');
  await page.keyboard.type('. ');
  await page.getByRole('textbox', { name: 'Search the fields' }).fill('descr');
  await page.getByRole('button', { name: 'Insert Description' }).click();
  await expect(cell(page, 2, 0)).toContainText('Order by six');
  await words.getByText('Description').click();
  await page.getByRole('radio', { name: /^first sentence/ }).click();
  await expect(cell(page, 2, 0)).toContainText('Fresh: Rye, overnight. Flour, water, patience.');
  await expect(cell(page, 2, 0)).not.toContainText('Order by six');

  // Says where it goes.
  await cell(page, 3, 0).click();
  await expect(cell(page, 3, 0)).toContainText('nowhere to post yet');
  await page.getByRole('checkbox', { name: /Marram Bakehouse/ }).check();
  await expect(cell(page, 3, 0)).toContainText(/Marram Bakehouse\s+(\w|\d)/);
  await expect(page.getByRole('region', { name: 'Preview' })).toContainText('Fresh: Rye, overnight.');

  // Adds a check, by keyboard.
  await cell(page, 1, 0).click();
  await page.keyboard.press('a');
  await page.getByRole('combobox', { name: 'Add a step' }).fill('check 2 min');
  await page.keyboard.press('Enter');
  await expect(cell(page, 2, 3)).toContainText('stops 1:15 is not over 2 min');
  await saved(page);

  // Rehearses: nothing is sent.
  await page.getByRole('radio', { name: 'Rehearsal' }).click();
  await expect(page.getByRole('region', { name: 'Summary' })).toContainText(/6 items\s+→ 5 posts\s+1 stopped at 2/);
  const lagoonPage = await page.context().newPage();
  await lagoonPage.goto(`${lagoon()}/pages/p/marram-bakehouse`);
  await expect(lagoonPage.getByText('Nothing posted yet.')).toBeVisible();

  // Switches it on.
  await page.getByRole('button', { name: 'Go live' }).click();
  await expect(page.getByRole('dialog')).toContainText('expect about');
  await page.getByRole('dialog').getByRole('button', { name: 'Go live' }).click();
  await expect(page.getByText('Live', { exact: true })).toBeVisible();
  await expect(page.getByText('Nothing has appeared since it went live.')).toBeVisible();

  // Uploads at Lagoon; the open screen shows the post without being asked.
  await upload(page, {
    person: 'Ines Duarte',
    channel: 'Marram Bakehouse',
    title: 'Plaiting a challah 🥨',
    description: 'Six strands, one idea. It helps to hum.\n\nOrder by six: https://marram.example/order',
    length: '3:33',
  });
  await expect(cell(page, 4, 0)).toContainText('posted', { timeout: 40_000 });
  await expect(page.getByRole('columnheader').nth(1)).toContainText('Plaiting a challah');

  // Sees it as the audience does: once, with link and picture.
  await lagoonPage.reload();
  const post = lagoonPage.locator('article');
  await expect(post).toHaveCount(1);
  await expect(post).toContainText('Fresh: Plaiting a challah 🥨. Six strands, one idea.');
  await expect(post.locator('a.card')).toHaveAttribute('href', /\/video\/v\//);
  const picture = post.locator('a.card img');
  await expect(picture).toBeVisible();
  expect(await picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBeGreaterThan(100);
  const link = cell(page, 4, 0).getByRole('link', { name: /posted/ });
  expect(await link.getAttribute('href')).toBe(await post.locator('a.soft').getAttribute('href'));

  // And on Today.
  await page.getByRole('link', { name: 'Today' }).click();
  await expect(page.getByRole('row', { name: /Marram Bakehouse/ })).toContainText('Fresh: Plaiting a challah');
  await expect(page.getByRole('region', { name: 'Appeared since yesterday' })).toContainText('Plaiting a challah');

  // Another upload while paused goes nowhere.
  await page.getByRole('link', { name: 'Workflows', exact: true }).click();
  await page.getByRole('switch').click();
  await expect(page.getByText('Paused', { exact: true })).toBeVisible();
  await lagoonPage.close();
});

test('nothing of one brand shows in the other', async ({ page }) => {
  await beAtLagoon(page, 'Mo Okoro');
  await page.goto(`${playa()}/sign-in`);
  await page.getByRole('button', { name: 'Enter the demonstration as Mo' }).click();
  await chooseBrand(page, 'Marram Bakehouse');
  await page.getByRole('link', { name: 'Workflows', exact: true }).click();
  await expect(page.getByText('Lesson videos to the page')).toHaveCount(0);
  await chooseBrand(page, 'Tern Bay Lidos');
  await expect(page.getByRole('link', { name: 'Lesson videos to the page' })).toBeVisible();
  await expect(page.getByText('Plaiting')).toHaveCount(0);
});
