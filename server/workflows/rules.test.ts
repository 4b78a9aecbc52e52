import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { slotsIn } from '@playa/core/model/state.ts';
import { openOutlet } from '../accounts/outlets.ts';
import { openHouse, type House, testNow } from '../testing/house.ts';
import { live, newVideos, pause, uploadNow } from '../testing/workflow.ts';
import { runBy } from '../store/runs.ts';
import { select } from '../db/database.ts';
import { loggedPost } from '../store/logbook.ts';
import { lookNow } from '../watch/look.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { decide } from './decide.ts';
import { editPost } from './change-post.ts';
import { runsOf } from '../testing/runs-of.ts';

// The rules of outlets where they count: at real networks, through held posts, answers and edits.
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
/** The newest run of a workflow, with what it waits for. */
const newest = async (workflow: number) => {
  const [found] = await runsOf(house.services.pool, house.lidos, workflow, 1);
  const run = (await runBy(house.services.pool, house.lidos, found!.id))!;
  return { id: run.id, slots: run.state ? slotsIn(run.state) : [] };
};

describe('a post', () => {
  it('keeps as many hashtags as its network takes, the first ones', async () => {
    const account = await house.connect('photos');
    const feed = await house.outlet('@ternbaylidos', account);
    const tags = Array.from({ length: 24 }, (_, index) => `#pool${index}`).join(' ');
    const definition = newVideos(watch, [feed.id], `{$title} ${tags}`);
    const post = definition.steps[1]!;
    if (post.verb === 'publish')
      Object.assign(post, {
        fit: true,
        card: null,
        media: [{ type: 'picture', from: 'thumbnail.url', alt: 'A pool' }],
      });
    const id = await live(house, definition);
    await upload('Many tags');
    const photos = await house.things<{ caption: string }>('photos', 'photo');
    const caption = photos.map(({ body }) => body.caption).find((text) => text.startsWith('Many tags'))!;
    expect(caption.match(/#/g)).toHaveLength(20);
    expect(caption.endsWith('#pool19')).toBe(true);
    await pause(house, id);
  });

  it('whose title is too long is put right with another title, and never with one that is still too long', async () => {
    const account = await house.connect('boards');
    const board = await house.outlet('Swim lessons · Beginners', account);
    const definition = newVideos(watch, [board.id], 'About {$title}');
    const post = definition.steps[1]!;
    const media = [{ type: 'picture' as const, from: 'thumbnail.url', alt: '' }];
    if (post.verb === 'publish') Object.assign(post, { title: `{$title} ${'x'.repeat(120)}`, media });
    const id = await live(house, definition);
    await upload('A long heading');
    const { id: run, slots } = await newest(id);
    const [slot] = slots;
    expect(slot).toMatchObject({ status: 'held', trouble: 'too-long' });
    expect(slot!.says).toMatch(/^The title: 135 characters, 35 more than Swim lessons/);
    const titled = (title: string) => ({ do: 'retry' as const, input: { ...slot!.input, title } });
    await expect(decide(house.services, house.lidos, run, slot!.key, titled('y'.repeat(101)))).rejects.toThrow(
      'The title: 101 characters, 1 more',
    );
    await decide(house.services, house.lidos, run, slot!.key, titled('A heading'));
    await house.settle();
    const pictures = await house.things<{ title: string; description: string }>('boards', 'picture');
    expect(pictures.map(({ body }) => [body.title, body.description])).toContainEqual([
      'A heading',
      'About A long heading',
    ]);
    await pause(house, id);
  });
});

describe('an answer', () => {
  it('that is longer than its place takes is held, counted as that place counts, and goes out once it fits', async () => {
    await house.connect('listings');
    const place = await house.outlet('Old Quay Pool');
    const reviews = await watchOutlet(house.services, house.lidos, place.id, 'reviews');
    await lookNow(house.services, reviews);
    const id = await live(house, {
      schema: 1,
      sources: [{ id: 's', watch: reviews }],
      steps: [
        { id: 'words', verb: 'compose', name: 'answer', text: `Thank you, {$person.name}. ${'More. '.repeat(260)}` },
        { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
      ],
    });
    await house.play({ do: 'review', location: 'Old Quay Pool', by: 'Teo Vance', stars: 5, text: 'Clear water.' });
    house.clock.now = testNow() + 3_600_000;
    await lookNow(house.services, reviews);
    await house.settle();
    const answers = async () =>
      (await house.things<{ reply: { text: string } | null }>('listings', 'review')).flatMap(
        (each) => each.body.reply?.text ?? [],
      );
    const before = await answers();
    const { id: run, slots } = await newest(id);
    expect(slots[0]).toMatchObject({ status: 'held', trouble: 'too-long', limit: 1500 });
    expect(slots[0]!.says).toMatch(/more than Old Quay Pool takes/);
    const key = slots[0]!.key;
    await expect(
      decide(house.services, house.lidos, run, key, { do: 'retry', text: '🌊'.repeat(751) }),
    ).rejects.toThrow('1502 characters, 2 more than Old Quay Pool takes.');
    expect(await answers()).toEqual(before);
    await decide(house.services, house.lidos, run, key, { do: 'retry', text: 'Thank you, Teo!' });
    await house.settle();
    expect(await answers()).toEqual([...before, 'Thank you, Teo!']);
    await pause(house, id);
  });
});

describe('an edit', () => {
  it('by a workflow arrives as it was written, formatting and signs alike', async () => {
    const rooms = await house.connect('rooms');
    const room = await house.outlet('#general · Tern Bay crew', rooms);
    const definition = newVideos(watch, [room.id], 'Soon: {$title}');
    definition.steps.push(
      { id: 'again', verb: 'compose', name: 'again', text: '{#bold}Now{/bold}: {$title}' },
      { id: 'edit', verb: 'revise', change: 'edit', of: 'out', caption: 'again' },
    );
    const post = definition.steps[1]!;
    if (post.verb === 'publish') Object.assign(post, { as: 'out', card: null });
    const id = await live(house, definition);
    await upload('Tide *tables* <now>');
    const messages = await house.things<{ text: string }>('rooms', 'message');
    expect(messages.at(-1)!.body.text).toBe('**Now**: Tide \\*tables\\* \\<now\\>');
    await pause(house, id);
  });
  it('by hand is as long as a caption beside a picture may be', async () => {
    const account = await house.connect('broadcast');
    const channel = await openOutlet(house.services, house.lidos, account, '@ternbaywater');
    const definition = newVideos(watch, [channel], 'Beside a picture: {$title}');
    const post = definition.steps[1]!;
    if (post.verb === 'publish')
      Object.assign(post, { card: null, media: [{ type: 'picture', from: 'thumbnail.url', alt: '' }] });
    const id = await live(house, definition);
    await upload('Short');
    const [last] = await select<{ key: string }>(
      house.services.pool,
      'SELECT effect_key AS `key` FROM logbook WHERE workflow_id = ? ORDER BY id DESC',
      [id],
    );
    expect(await loggedPost(house.services.pool, house.lidos, last!.key)).toMatchObject({ hasMedia: true });
    const who = { brandId: house.lidos, userId: house.mo };
    await expect(editPost(house.services, who, last!.key, 'x'.repeat(1001))).rejects.toThrow('1 more than');
    await editPost(house.services, who, last!.key, 'x'.repeat(1000));
    expect((await loggedPost(house.services.pool, house.lidos, last!.key))!.text).toHaveLength(1000);
    await pause(house, id);
  });
});

describe('a formatted post that was refused', () => {
  it('goes out as it was when somebody tries again, however long its words would be without formatting', async () => {
    const account = await house.connect('broadcast');
    const channel = await openOutlet(house.services, house.lidos, account, '@ternbaywater');
    // The address behind the words does not count there; written after them it would be too much.
    const definition = newVideos(watch, [channel], `{#link to=$link}{$title} ${'x'.repeat(3970)}{/link}`);
    const post = definition.steps[1]!;
    if (post.verb === 'publish') Object.assign(post, { card: null });
    const id = await live(house, definition);
    await house.fault('broadcast', { kind: 'error', status: 400 });
    await upload('Linked');
    await house.behave();
    const { id: run, slots } = await newest(id);
    expect(slots[0]).toMatchObject({ status: 'held', trouble: 'failed' });
    await decide(house.services, house.lidos, run, slots[0]!.key, { do: 'retry' });
    await house.settle();
    const [logged] = await select<{ text: string }>(
      house.services.pool,
      'SELECT text FROM logbook WHERE workflow_id = ?',
      [id],
    );
    expect(logged!.text).toMatch(/^Linked x+ http/);
    expect(logged!.text.length).toBeGreaterThan(4000);
    await pause(house, id);
  });
});
