import { readdirSync } from 'node:fs';
import type { Server } from 'node:http';
import { tmpdir } from 'node:os';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { validateDefinition } from '@playa/core/workflow/validate.ts';
import type { WorldFile } from '@playa/core/model/world.ts';
import { change, select } from '../db/database.ts';
import { takeRuns } from '../runner/take-runs.ts';
import { lookNow } from '../watch/look.ts';
import * as users from '../store/users.ts';
import { madeFilm } from '../testing/films.ts';
import { openHouse, type House } from '../testing/house.ts';
import { drawnPicture } from '../testing/pictures.ts';
import { PASSWORD, Visitor } from '../testing/visitor.ts';
import { live, newVideos } from '../testing/workflow.ts';
import { worldOf } from '../world/world.ts';
import { makeApp } from './app.ts';
import { ChangeTail } from './events.ts';
import { hashPassword } from '../vault/password.ts';

let house: House;
let server: Server;
let mo: Visitor;
const at = () => `/brands/${house.lidos}/files`;
const origin = () => house.env.PLAYA_ORIGIN!;
beforeAll(async () => {
  house = await openHouse();
  const { pool } = house.services;
  const hash = await hashPassword(PASSWORD);
  await change(pool, 'UPDATE users SET password_hash = ? WHERE id = ?', [hash, house.mo]);
  const ines = await users.addUser(pool, { email: 'ines@marram.example', name: 'Ines Duarte', passwordHash: hash });
  await users.addMembership(pool, ines, house.bakehouse);
  server = makeApp(house.services, new ChangeTail(house.services)).listen(Number(house.env.PLAYA_PORT), '127.0.0.1');
  mo = new Visitor(origin());
  await mo.signIn('mo@ternbay.example');
});
afterAll(async () => {
  server?.closeAllConnections();
  server?.close();
  await house?.close();
});

type Listed = WorldFile & { revision: string; uses: { workflow: string }[] };
const added = async (name: string, bytes: Buffer) => {
  const answer = await mo.ask('POST', `${at()}?name=${encodeURIComponent(name)}`, bytes);
  expect(answer.status).toBe(201);
  return answer.body.file as Listed;
};
const listed = async () => (await mo.ask('GET', at())).body.files as Listed[];
const beside = () => readdirSync(tmpdir()).filter((name) => name.startsWith('playa-file-'));

describe('the brand’s own files', () => {
  it('are what their bytes say, each once', async () => {
    const picture = await drawnPicture(640, 200);
    const file = await added('Tide wall.jpg', picture);
    expect(file).toMatchObject({
      name: 'Tide wall.jpg',
      type: 'picture',
      mediaType: 'image/png',
      bytes: picture.length,
      width: 640,
      height: 200,
      seconds: null,
      alt: '',
    });
    expect((await added('the same again.png', picture)).id).toBe(file.id);
    const film = await added('Steps.mp4', await madeFilm('mp4', 1080, 1920, 12));
    expect(film).toMatchObject({ type: 'video', mediaType: 'video/mp4', width: 1080, height: 1920, seconds: 12 });
    expect((await listed()).map(({ id }) => id)).toEqual([film.id, file.id]);
    expect(
      (
        await mo.ask('PUT', `${at()}/${file.id}`, {
          name: 'Wall',
          alt: 'The wall at high tide',
          revision: file.revision,
        })
      ).status,
    ).toBe(204);
    expect((await listed())[1]).toMatchObject({ name: 'Wall', alt: 'The wall at high tide' });
    expect(beside()).toEqual([]);
  });
  it.each([
    ['words', Buffer.from('Cold water'), /neither a picture nor a film/],
    ['nothing', Buffer.alloc(0), /nothing in this file/],
    [
      'a drawing that can hold scripts',
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>'),
      /do not take svg/,
    ],
    ['a film that breaks off', null, /neither a picture nor a film/],
  ])('are not %s', async (_, bytes, says) => {
    const before = await listed();
    const given = bytes ?? (await madeFilm('mp4', 640, 360, 3)).subarray(0, 60);
    const refused = await mo.ask('POST', `${at()}?name=x`, given);
    expect(refused.status).toBe(422);
    expect(refused.body.title).toMatch(says);
    expect(await listed()).toEqual(before);
    expect(beside()).toEqual([]);
  });
  it('are not taken when too large, before they are sent', async () => {
    const refused = await fetch(`${origin()}/api${at()}?name=x`, {
      method: 'POST',
      headers: { cookie: mo.cookie, 'x-csrf-token': mo.csrf },
      body: new ReadableStream({
        // Nobody has said how large it is.
        pull: (stream) => stream.enqueue(new Uint8Array(4_000_000)),
      }),
      duplex: 'half',
    } as RequestInit).then(
      (answer) => answer.status,
      () => 'hung up',
    );
    expect([413, 'hung up']).toContain(refused);
    expect(beside()).toEqual([]);
    expect((await mo.ask('POST', at(), await drawnPicture(9, 9))).status).toBe(422);
  }, 60_000);
  it('are nobody else’s', async () => {
    const [first] = await listed();
    const ines = new Visitor(origin());
    await ines.signIn('ines@marram.example');
    expect((await ines.ask('GET', at())).status).toBe(404);
    expect((await ines.ask('DELETE', `${at()}/${first!.id}`)).status).toBe(404);
    expect((await ines.ask('DELETE', `/brands/${house.bakehouse}/files/${first!.id}`)).status).toBe(404);
    expect((await new Visitor(origin()).ask('POST', `${at()}?name=x`, Buffer.from('x'))).status).toBe(401);
    const forged = await mo.ask('POST', `${at()}?name=x`, await drawnPicture(3, 3), { 'x-csrf-token': 'no' });
    expect(forged.status).toBe(403);
    expect((await listed()).length).toBe(2);
  });
});

describe('what networks fetch', () => {
  // RFC 9110 sections 14.1.2, 14.2 and 15.5.17.
  it('is the bytes that were given, whole or any range of them', async () => {
    const film = await madeFilm('webm', 640, 360, 30, 90_000);
    expect(film.length).toBeGreaterThan(2 * (1 << 20));
    const { url } = await added('Long.webm', film);
    const whole = await fetch(origin() + url);
    expect(whole.headers.get('content-type')).toBe('video/webm');
    expect(whole.headers.get('accept-ranges')).toBe('bytes');
    // Pages of networks show it, and they lie elsewhere.
    expect(whole.headers.get('cross-origin-resource-policy')).toBe('cross-origin');
    expect(Buffer.from(await whole.arrayBuffer()).equals(film)).toBe(true);
    const place = fc.integer({ min: 0, max: film.length - 1 });
    await fc.assert(
      fc.asyncProperty(place, place, async (one, other) => {
        const [from, to] = [Math.min(one, other), Math.max(one, other)];
        const part = await fetch(origin() + url, { headers: { range: `bytes=${from}-${to}` } });
        expect(part.status).toBe(206);
        expect(part.headers.get('content-range')).toBe(`bytes ${from}-${to}/${film.length}`);
        expect(Buffer.from(await part.arrayBuffer()).equals(film.subarray(from, to + 1))).toBe(true);
      }),
      { numRuns: 25, examples: [[(1 << 20) - 1, 1 << 20]] },
    );
    const ranged = async (range: string) => {
      const part = await fetch(origin() + url, { headers: { range } });
      return [part.status, part.headers.get('content-range'), (await part.arrayBuffer()).byteLength];
    };
    expect(await ranged('bytes=-500')).toEqual([
      206,
      `bytes ${film.length - 500}-${film.length - 1}/${film.length}`,
      500,
    ]);
    expect(await ranged(`bytes=${film.length}-`)).toEqual([416, `bytes */${film.length}`, 0]);
    expect((await ranged('bytes=0-0,9-9'))[0]).toBe(200);
    expect((await ranged('sheep=1-2'))[0]).toBe(200);
    const head = await fetch(origin() + url, { method: 'HEAD' });
    expect([head.status, head.headers.get('content-length')]).toEqual([200, String(film.length)]);
    expect((await fetch(`${origin()}/files/${'x'.repeat(32)}.webm`)).status).toBe(404);
    expect((await fetch(`${origin()}/files/..%2f..%2fetc`)).status).toBe(404);
  });
});

describe('a post with a file', () => {
  const withFile = (watch: number, outlet: number, file: number, shape?: 'crop'): Definition => {
    const definition = newVideos(watch, [outlet]);
    const publish = definition.steps[1]!;
    if (publish.verb === 'publish')
      publish.media = [{ type: 'picture', from: '', file, alt: '', ...(shape ? { shape } : {}) }];
    return definition;
  };
  it('is told what its outlet would say before it goes live, and goes out with what the file says of itself', async () => {
    await house.connect('video');
    const account = await house.connect('photos');
    const feed = await house.outlet('@ternbaylidos', account);
    const watch = await house.watch();
    const file = await added('Sign.png', await drawnPicture(900, 100));
    await mo.ask('PUT', `${at()}/${file.id}`, {
      name: 'Sign',
      alt: 'A sign at the gate',
      revision: file.revision,
    });
    const world = await worldOf(house.services.pool, house.lidos);
    const said = (definition: Definition) => validateDefinition(definition, world).map(({ says }) => says);
    expect(said(withFile(watch, feed.id, file.id))).toEqual([
      expect.stringContaining('Sign: The picture is 9 times as wide as high'),
    ]);
    expect(said(withFile(watch, feed.id, 9999))).toEqual([expect.stringContaining('A file of this step is gone')]);
    const cropped = withFile(watch, feed.id, file.id, 'crop');
    expect(said(cropped)).toEqual([]);
    const id = await live(house, cropped);
    await house.upload({ title: 'Early swim' });
    await lookNow(house.services, watch);
    await house.settle();
    const photos = await house.things<{ picture: string; caption: string; alt: string }>('photos', 'photo');
    const { body } = photos.find((photo) => photo.body.caption === 'New: Early swim')!;
    expect(body.alt).toBe('A sign at the gate');
    const shown = await fetch(body.picture);
    expect([shown.status, shown.headers.get('content-type')]).toEqual([200, 'image/jpeg']);

    expect((await listed()).find((each) => each.id === file.id)!.uses).toMatchObject([{ workflowId: id, live: true }]);
    const refused = await mo.ask('DELETE', `${at()}/${file.id}`);
    expect([refused.status, refused.body.title]).toEqual([409, expect.stringContaining('is live and sends it')]);
    await change(house.services.pool, "UPDATE workflows SET status = 'paused' WHERE id = ?", [id]);
  });
  it.each([
    ['noticed', false],
    ['sent', true],
  ])('is held when the file is gone by the time it is %s', async (_, planned) => {
    const film = await added('Other.png', await drawnPicture(300, 310));
    const watch = await house.watch();
    await house.connect('pages');
    const definition = withFile(watch, await house.page(), film.id);
    const id = await live(house, definition);
    await house.upload({ title: 'Late swim' });
    await lookNow(house.services, watch);
    if (planned) await takeRuns(house.services);
    await change(house.services.pool, 'DELETE FROM files WHERE id = ?', [film.id]);
    await house.settle();
    const held = await select<{ state: string }>(
      house.services.pool,
      "SELECT state FROM runs WHERE status = 'held' AND workflow_id = ?",
      [id],
    );
    expect(held.length).toBe(1);
    expect(held[0]!.state).toContain('The file of this post is gone. Choose another.');
    expect((await house.posts()).map(({ text }) => text)).not.toContain('New: Late swim');
    await change(house.services.pool, "UPDATE workflows SET status = 'paused' WHERE id = ?", [id]);
  });
});
