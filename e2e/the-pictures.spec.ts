import { expect, test, type Page } from './test.ts';
import { drawnPicture } from '../server/testing/pictures.ts';
import { beAtLagoon, enter, lagoon, openDraft, saved, upload } from './steps.ts';

// Pictures of the brand's own: added, described, brought to a shape that an outlet takes, and sent. What uploads to the
// lidos' channel comes last by its name: others expect its newest films.
/** A draft that sends films' titles to the photo feed, with the film's own picture. */
async function draft(page: Page): Promise<void> {
  await openDraft(page, 'A picture of ours', (outlet) => [
    { id: 'words', verb: 'compose', name: 'caption', text: 'Ours: {$title}' },
    {
      id: 'post',
      verb: 'publish',
      outlets: [outlet('photos', /ternbaylidos/)],
      caption: 'caption',
      card: null,
      media: [{ type: 'picture', from: 'thumbnail.url', alt: '' }],
    },
  ]);
  await page.getByRole('rowheader').filter({ hasText: 'Publish' }).click();
}

test('a picture of the brand’s own is added, described, brought to a shape and posted', async ({ page }) => {
  test.slow();
  await draft(page);
  const bench = page.getByRole('region', { name: 'The chosen step' });
  await bench.getByRole('button', { name: 'a file…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Pictures and films' });
  const files = dialog.getByLabel('Files to add');
  // What is no picture is told by name, and nothing else is lost.
  await files.setInputFiles([
    { name: 'notes.png', mimeType: 'image/png', buffer: Buffer.from('no picture at all') },
    { name: 'Long wall.png', mimeType: 'image/png', buffer: await drawnPicture(1200, 200) },
  ]);
  await expect(dialog.getByRole('alert')).toContainText('notes.png');
  await expect(dialog.getByRole('button', { name: /Long wall/ })).toHaveAttribute('aria-pressed', 'true');
  await dialog.getByLabel('It shows').fill('The long wall from above');
  await dialog.getByRole('button', { name: 'Use this one' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(bench).toContainText('Long wall.png');
  const preview = page.getByRole('region', { name: 'Preview' });
  await expect(preview.getByRole('img')).toHaveAttribute('alt', 'The long wall from above');
  // It is told before anything goes out, with what to do about it.
  const trouble = page.getByRole('listitem').filter({ hasText: '6 times as wide as high' });
  await expect(trouble).toContainText('takes 0.8 to 1.9. Have it cropped');
  await bench.getByLabel('What to do with pictures of another shape').selectOption('crop');
  await expect(trouble).toHaveCount(0);
  await saved(page);

  await page.getByRole('button', { name: 'Go live …' }).click();
  await page
    .getByRole('button', { name: /^Go live/ })
    .last()
    .click();
  await expect(page.getByText('Live, version 1.').first()).toBeVisible();
  const title = `Above the wall ${Date.now()}`;
  await upload(page, {
    person: 'Mo Okoro',
    channel: 'Tern Bay channel',
    title,
    description: 'Filmed from the mast.',
    length: '3:10',
  });
  const there = await page.context().newPage();
  await beAtLagoon(there, 'Mo Okoro');
  await expect(async () => {
    await there.goto(`${lagoon()}/photos/@ternbaylidos`);
    await expect(there.getByText(`Ours: ${title}`)).toHaveCount(1);
  }).toPass({ timeout: 90_000 });
  await expect(there.getByRole('img', { name: 'The long wall from above' }).first()).toBeVisible();
  // What is uploaded by other tests is theirs.
  await page.getByRole('link', { name: 'Workflows', exact: true }).click();
  await page.getByRole('switch', { name: /^A picture of ours/ }).click();
  await expect(page.getByText('Paused', { exact: true }).first()).toBeVisible();
});

test('a picture of another shape waits on Today, and one click crops it and posts it', async ({ page }) => {
  await enter(page);
  const row = page.getByRole('group', { name: /^New lane ropes at Old Quay/ });
  await expect(row).toContainText('3.53 times as wide as high');
  await row.getByRole('button', { name: 'Crop it' }).click();
  await expect(row).toContainText('Posting it with the picture cropped.');
  await page.mouse.move(2, 2);
  await expect(row).toHaveCount(0);
  const line = page.getByRole('row', { name: /^Our photographs/ });
  await expect(line).toContainText('New lane ropes at Old Quay', { timeout: 30_000 });
  // It is out there, and its picture has a shape that boards take.
  const there = await page.context().newPage();
  await there.goto((await line.getByRole('link', { name: /^New lane ropes/ }).getAttribute('href'))!);
  const picture = there.locator('main .screen img');
  await expect(picture).toBeVisible();
  const size = await picture.evaluate((img: HTMLImageElement) => img.naturalWidth / img.naturalHeight);
  expect(size).toBeGreaterThanOrEqual(0.4);
  expect(size).toBeLessThanOrEqual(2);
});
