import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { madeFilm } from '../testing/films.ts';
import { drawnPicture, pictureServer } from '../testing/pictures.ts';
import { select } from '../db/database.ts';
import { Guard } from '../guard/guard.ts';
import { withMedia } from '../media/before-sending.ts';
import { changedPosts, findPosts, loggedPost, saidLately } from '../store/logbook.ts';
import { editsOf } from '../store/post-edits.ts';
import { outletBy } from '../store/outlets.ts';
import { keepSnippet } from '../store/snippets.ts';
import { openOutlet } from '../accounts/outlets.ts';
import { auditOf } from '../store/audit.ts';
import { openHouse, type House } from '../testing/house.ts';
import { live, newVideos, pause, uploadNow } from '../testing/workflow.ts';
import { addWorkflow } from '../store/workflows.ts';
import { CannotChange, deletePost, editPost, pinPost } from './change-post.ts';
import { changesBy, usingSnippet } from './snippets.ts';
import { usesOf } from '../world/uses.ts';

// What captions need of the server: snippets, own words, formatting at real networks, editing afterwards, pictures.
let house: House;
let watch: number;
beforeAll(async () => {
  house = await openHouse();
  await house.connect('video');
  await house.connect('pages');
  watch = await house.watch();
});
afterAll(() => house?.close());

const upload = (title: string, description?: string) => uploadNow(house, watch, title, description);
const texts = async (slug?: string) => (await house.posts(slug)).map((post) => post.text);
const keys = () =>
  select<{ key: string; text: string }>(
    house.services.pool,
    'SELECT effect_key AS `key`, text FROM logbook WHERE brand_id = ? ORDER BY id',
    [house.lidos],
  );

describe('a snippet', () => {
  it('is said by what is live, in its new words from the moment it changes', async () => {
    const { pool } = house.services;
    await keepSnippet(pool, house.lidos, { name: 'sign-off', text: 'Your crew' }, house.clock.now);
    const id = await live(house, newVideos(watch, [await house.page()], '{$title}. {$snippet.sign-off}'));
    await upload('First of the day');
    expect(await texts()).toContain('First of the day. Your crew');
    expect(await usesOf(pool, house.lidos, usingSnippet('sign-off'))).toMatchObject([
      { workflowId: id, steps: 1, live: true },
    ]);
    expect(await changesBy(pool, house.lidos, 'sign-off', 'See you')).toMatchObject([
      { before: 'First of the day. Your crew', after: 'First of the day. See you' },
    ]);
    // Answers and notices say it too.
    const told: Definition = {
      schema: 1,
      sources: [{ id: 'source', watch }],
      steps: [{ id: 'tell', verb: 'notify', to: [], text: '{$title}, {$snippet.sign-off}' }],
    };
    await addWorkflow(pool, house.lidos, 'Told', told, house.clock.now);
    const changes = await changesBy(pool, house.lidos, 'sign-off', 'See you');
    expect(changes.find((each) => each.workflow === 'Told')).toMatchObject({
      before: 'First of the day, Your crew',
      after: 'First of the day, See you',
    });
    await keepSnippet(pool, house.lidos, { name: 'sign-off', text: 'See you' }, house.clock.now);
    await upload('Second of the day');
    expect(await texts()).toContain('Second of the day. See you');
    // Another brand knows nothing of it.
    expect(await usesOf(pool, house.bakehouse, usingSnippet('sign-off'))).toEqual([]);
    await pause(house, id);
  });
});

describe('words of their own', () => {
  it('go out where they belong, formatted as each network reads it, and shortened by its own ladder', async () => {
    const account = await house.connect('microblog');
    const rooms = await house.connect('rooms');
    const note = await house.outlet('@ternbaylidos', account);
    const room = await house.outlet('#general · Tern Bay crew', rooms);
    const page = await house.page();
    const definition: Definition = newVideos(
      watch,
      [page, note.id, room.id],
      'New: {#bold}{$title}{/bold} {#optional}about {$description} {/optional}#lido',
    );
    const [words, post] = definition.steps;
    if (words?.verb === 'compose') words.own = [{ outlet: page, text: 'Only here: {$title}' }];
    if (post?.verb === 'publish') Object.assign(post, { fit: true, card: null });
    const id = await live(house, definition);
    await upload('Tide *tables* <now>', 'Long words about the tide. '.repeat(30));
    expect(await texts()).toContain('Only here: Tide *tables* <now>');
    const notes = await house.things<{ text: string }>('microblog', 'note');
    const said = notes.find(({ body }) => body.text.startsWith('New: Tide *tables* <now>'))!.body.text;
    expect(said.length).toBeLessThanOrEqual(300);
    expect(said).toMatch(/^New: Tide \*tables\* <now> about Long words about the tide\./);
    const messages = await house.things<{ text: string }>('rooms', 'message');
    expect(messages.map(({ body }) => body.text)).toContainEqual(
      expect.stringMatching(/^New: \*\*Tide \\\*tables\\\* \\<now\\>\*\* about Long words/),
    );
    await pause(house, id);
  });
});

describe('a post that is out', () => {
  it('is edited at its network, once, and both versions are kept', async () => {
    const { pool } = house.services;
    const last = (await keys()).find(({ text }) => text.startsWith('Second of the day'))!;
    const who = { brandId: house.lidos, userId: house.mo };
    await editPost(house.services, who, last.key, 'Second of the day, put right');
    expect(await texts()).toContain('Second of the day, put right');
    expect(await texts()).not.toContain('Second of the day. See you');
    const post = (await loggedPost(pool, house.lidos, last.key))!;
    expect(post.text).toBe('Second of the day, put right');
    expect(await editsOf(pool, house.lidos, post.id)).toMatchObject([
      { before: 'Second of the day. See you', after: 'Second of the day, put right', by: 'Mo Okoro', made: true },
    ]);
    expect((await saidLately(pool, house.lidos, [post.outletId!], 0, 0, 40)).map((each) => each.text)).toContain(
      post.text,
    );
  });
  it('is pinned where its network pins posts, and nowhere else', async () => {
    const account = await house.connect('broadcast');
    const channel = await openOutlet(house.services, house.lidos, account, '@ternbaywater');
    const workflow = await live(house, newVideos(watch, [channel], 'Pin: {$title}'));
    await upload('To be pinned');
    const mo = { ...house.services, actor: { kind: 'person' as const, userId: house.mo } };
    const { key } = (await keys()).find(({ text }) => text === 'Pin: To be pinned')!;
    const isPinned = async () =>
      (await house.things<{ pinned: boolean }>('broadcast', 'message')).some(
        ({ body }) => body.pinned && JSON.stringify(body).includes('To be pinned'),
      );
    await pinPost(mo, house.lidos, key, true);
    expect(await isPinned()).toBe(true);
    await pinPost(mo, house.lidos, key, true);
    await pinPost(mo, house.lidos, key, false);
    expect(await isPinned()).toBe(false);
    const { id } = (await loggedPost(house.services.pool, house.lidos, key))!;
    expect((await auditOf(house.services.pool, house.lidos, 'post', [id])).map(({ by, did }) => [by, did])).toEqual([
      ['Mo Okoro', 'unpinned'],
      ['Mo Okoro', 'pinned'],
      ['Mo Okoro', 'pinned'],
    ]);
    await pause(house, workflow);
    const elsewhere = (await keys()).find(({ text }) => text.endsWith('put right'))!;
    await expect(pinPost(mo, house.lidos, elsewhere.key, true)).rejects.toThrow('does not let posts be pinned');
    await expect(pinPost(mo, house.bakehouse, key, true)).rejects.toThrow(CannotChange);
  });
  it('stays as it is when the words do not fit, it is another brand’s, or the network says no', async () => {
    const last = (await keys()).find(({ text }) => text.endsWith('put right'))!;
    const who = { brandId: house.lidos, userId: house.mo };
    await expect(editPost(house.services, who, last.key, 'x'.repeat(2001))).rejects.toThrow('1 more than');
    await expect(editPost(house.services, { ...who, brandId: house.bakehouse }, last.key, 'x')).rejects.toThrow(
      CannotChange,
    );
    await house.fault('pages', { kind: 'error', status: 500 });
    await expect(editPost(house.services, who, last.key, 'Lost?')).rejects.toThrow();
    await house.behave();
    expect((await loggedPost(house.services.pool, house.lidos, last.key))!.text).toBe('Second of the day, put right');
    const post = (await loggedPost(house.services.pool, house.lidos, last.key))!;
    // That it was asked for is known, so that nobody takes the old words for certain.
    expect((await editsOf(house.services.pool, house.lidos, post.id))[0]).toMatchObject({
      after: 'Lost?',
      made: false,
    });
    await editPost(house.services, who, last.key, 'Lost?');
    expect(await texts()).toContain('Lost?');
  });
});

describe('a picture', () => {
  it('is held where its shape does not fit, brought to one that does when that was asked, and the same at every try', async () => {
    const account = await house.connect('photos');
    const feed = (await outletBy(house.services.pool, house.lidos, (await house.outlet('@ternbaylidos', account)).id))!;
    const host = await pictureServer({
      '/wide.png': await drawnPicture(800, 100),
      '/fine.png': await drawnPicture(300, 300),
      '/text.png': Buffer.from('no picture'),
    });
    const services = { ...house.services, guard: new Guard([host.host]) };
    const input = (path: string, shape = false) => ({
      text: 'x',
      card: null,
      media: [
        {
          type: 'picture' as const,
          url: host.origin + path,
          alt: '',
          ...(shape ? { shape: { by: 'crop' as const, least: 0.8, most: 1.9 } } : {}),
        },
      ],
    });
    const sent = (path: string, shape = false, unsure = false) =>
      withMedia(services, feed, input(path, shape), unsure).then((post) => post.media![0]!);
    await expect(sent('/wide.png')).rejects.toThrow('8 times as wide as high');
    await expect(sent('/text.png', true)).rejects.toThrow('none that can be read');
    await expect(sent('/gone.png', true)).rejects.toMatchObject({ kind: 'retry' });
    expect((await sent('/fine.png')).url).toBe(`${host.origin}/fine.png`);
    // What cannot be had is the network's to judge.
    expect((await sent('/gone.png')).url).toBe(`${host.origin}/gone.png`);
    const shaped = await sent('/wide.png', true);
    expect(shaped.url).toMatch(/\/pictures\/[\w-]+\/[\w-]+\.jpg$/);
    expect(shaped).not.toHaveProperty('shape');
    // After a try that may have gone out, the same request goes out again whatever has become of the picture meanwhile:
    // a refusal here would count as an answer, and somebody would post it a second time.
    expect(await sent('/wide.png', true, true)).toEqual(shaped);
    expect((await sent('/wide.png', false, true)).url).toBe(`${host.origin}/wide.png`);
    expect((await sent('/gone.png', true, true)).url).toMatch(/\/pictures\//);
    await host.close();
  });
});

describe('a film', () => {
  it('is looked at by its beginning and its index before it goes out', async () => {
    await house.page();
    const { id } = await house.outlet('Tern Bay Lidos');
    const page = (await outletBy(house.services.pool, house.lidos, id))!;
    const fine = await madeFilm('mp4', 640, 360, 9, 400_000);
    const host = await pictureServer({
      '/fine.mp4': fine,
      '/tall.mp4': await madeFilm('mp4', 200, 1000, 3),
      '/long.webm': await madeFilm('webm', 640, 360, 1300, 1),
      '/whole/long.mp4': await madeFilm('mp4', 640, 360, 1300, 1),
      '/words.mp4': Buffer.from('This is no film.'),
      '/words.txt': Buffer.from('Nor is this.'),
    });
    const services = { ...house.services, guard: new Guard([host.host]) };
    const sent = (path: string, unsure = false) =>
      withMedia(
        services,
        page,
        { text: 'x', card: null, media: [{ type: 'video', url: host.origin + path, alt: '' }] },
        unsure,
      ).then((post) => post.media![0]!.url.slice(host.origin.length));
    expect(await sent('/fine.mp4')).toBe('/fine.mp4');
    // Not the film itself was read, but what says what it is.
    const read = host.asked.flatMap((line) => /bytes=(\d+)-(\d+)/.exec(line)?.slice(1).map(Number) ?? []);
    expect(read.length).toBeGreaterThan(0);
    let bytes = 0;
    for (let index = 0; index < read.length; index += 2) bytes += read[index + 1]! - read[index]! + 1;
    expect(bytes).toBeLessThan(fine.length / 2);
    await expect(sent('/tall.mp4')).rejects.toThrow(
      'The film is 0.2 times as wide as high; Tern Bay Lidos takes 0.5 to 2.4',
    );
    await expect(sent('/long.webm')).rejects.toThrow('The film is 21:40 long; Tern Bay Lidos takes 20:00');
    // What cannot be told, or cannot be had, is the network's to judge; and after a try that may have gone out, everything.
    for (const path of ['/whole/long.mp4', '/words.mp4', '/words.txt', '/gone.mp4'])
      expect(await sent(path)).toBe(path);
    expect(await sent('/tall.mp4', true)).toBe('/tall.mp4');
    await host.close();
  });
  it('is deleted at its network, once; that it was out and what it said stays known', async () => {
    const { pool } = house.services;
    const { key } = (await keys()).find(({ text }) => text === 'Lost?')!;
    const who = { brandId: house.lidos, userId: house.mo };
    await expect(deletePost(house.services, { ...who, brandId: house.bakehouse }, key)).rejects.toThrow(CannotChange);
    await house.fault('pages', { kind: 'errorAfter', status: 500 });
    await expect(deletePost(house.services, who, key)).rejects.toThrow('It may have been deleted');
    await house.behave();
    // Nobody heard that it is gone: asked for again, it is.
    await deletePost(house.services, who, key);
    expect(await texts()).not.toContain('Lost?');
    const post = (await loggedPost(pool, house.lidos, key))!;
    expect(post).toMatchObject({ text: 'Lost?', deletedAt: house.clock.now });
    expect((await editsOf(pool, house.lidos, post.id))[0]).toMatchObject({ deletes: true, made: true, by: 'Mo Okoro' });
    expect((await changedPosts(pool, house.lidos, [post.runId]))[0]).toMatchObject({ deleted: true, edited: true });
    await expect(deletePost(house.services, who, key)).rejects.toThrow('it was deleted');
    await expect(editPost(house.services, who, key, 'Back')).rejects.toThrow('it was deleted');
    // What is gone is not what was said lately, nor found by a Find.
    const lately = await saidLately(pool, house.lidos, [post.outletId!], 0, 0, 40);
    expect(lately.map((each) => each.text)).not.toContain('Lost?');
    expect(await findPosts(pool, house.lidos, 'text', 'Lost?')).toEqual([]);
  });
});
