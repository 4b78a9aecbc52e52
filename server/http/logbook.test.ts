// The logbook as people read it: searched, filtered, in pages and files; the brand's own feed.
import type { Server } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readFeed } from '@playa/core/feeds/parse-feed.ts';
import { change } from '../db/database.ts';
import { logbookPage } from '../store/logbook-shown.ts';
import { outletsOf } from '../store/outlets.ts';
import { openHouse, type House } from '../testing/house.ts';
import { PASSWORD, Visitor } from '../testing/visitor.ts';
import { live, newVideos, uploadNow } from '../testing/workflow.ts';
import { hashPassword } from '../vault/password.ts';
import { makeApp } from './app.ts';
import { ChangeTail } from './events.ts';

let house: House;
let server: Server;
let tail: ChangeTail;
let mo: Visitor;
beforeAll(async () => {
  house = await openHouse();
  await change(house.services.pool, 'UPDATE users SET password_hash = ? WHERE id = ?', [
    await hashPassword(PASSWORD),
    house.mo,
  ]);
  tail = new ChangeTail(house.services);
  server = makeApp(house.services, tail).listen(Number(house.env.PLAYA_PORT), '127.0.0.1');
  mo = new Visitor(house.env.PLAYA_ORIGIN!);
  await mo.signIn('mo@ternbay.example');
  await house.connect('pages');
  const watch = await house.watch();
  await live(house, newVideos(watch, [await house.page()], '{$title}'));
  for (const title of ['Maré alta at Old Quay', 'Cold water, first time', '🏊 14 °C today', '=1+1 is no sum'])
    await uploadNow(house, watch, title);
});
afterAll(async () => {
  tail?.stop();
  server?.closeAllConnections();
  server?.close();
  await house?.close();
});
const said = async (words: string) =>
  (await logbookPage(house.services.pool, house.lidos, { words }, undefined, 50)).map(({ text }) => text);
const at = () => `/brands/${house.lidos}`;

describe('the logbook', () => {
  it.each([
    ['col wat', ['Cold water, first time']],
    ['MARE', ['Maré alta at Old Quay']],
    ['old cold', []],
    // Addresses are searched too, and the port of the test's may begin with any number.
    ['14 tod', ['🏊 14 °C today']],
    ['🏊', ['🏊 14 °C today']],
    ['100%_', []],
    ['" +b1_* -x', []],
  ])('is searched as one types: “%s”', async (words, found) => {
    expect(await said(words)).toEqual(found);
  });

  it('finds nothing of another brand', async () => {
    expect(await logbookPage(house.services.pool, house.bakehouse, { words: 'cold' }, undefined, 50)).toEqual([]);
  });

  it('comes in pages that neither repeat nor leave out', async () => {
    const seen: string[] = [];
    let after = '';
    for (let pages = 0; pages < 10; pages++) {
      const { body } = await mo.ask('GET', `${at()}/logbook?most=1${after && `&after=${after}`}`);
      const { entries, next } = body as unknown as { entries: { text: string }[]; next: string | null };
      seen.push(...entries.map(({ text }) => text));
      if (!next) break;
      after = next;
    }
    expect(seen).toEqual(await said(''));
    expect(seen).toHaveLength(4);
  });

  it('is saved as a file that no program takes for formulas', async () => {
    const answer = await fetch(`${house.env.PLAYA_ORIGIN}/api${at()}/logbook/export?as=csv&words=sum`, {
      headers: { cookie: mo.cookie },
    });
    expect(answer.headers.get('content-disposition')).toContain('.csv');
    const rows = await house.services.outside.table(Buffer.from(await answer.arrayBuffer()));
    expect(rows).toHaveLength(2);
    expect(rows[1]![3]).toBe("'=1+1 is no sum");
  });

  it('is saved with the columns that were chosen, in their order', async () => {
    const file = (columns: string) =>
      fetch(`${house.env.PLAYA_ORIGIN}/api${at()}/logbook/export?as=csv&words=sum&columns=${columns}`, {
        headers: { cookie: mo.cookie },
      });
    const rows = await house.services.outside.table(Buffer.from(await (await file('words,when')).arrayBuffer()));
    expect(rows[0]).toEqual(['When', 'Words']);
    expect(rows[1]![1]).toBe("'=1+1 is no sum");
    expect((await file('nothing')).status).toBe(422);
  });

  it('gives the brand a feed, at an address that ends with the next one', async () => {
    const on = async () =>
      (await mo.ask('PUT', `${at()}/published`, { on: true })).body as unknown as {
        feed: { atom: string; json: string };
      };
    const { feed: first } = await on();
    const text = await (await fetch(first.atom)).text();
    const { items } = readFeed(new TextEncoder().encode(text), first.atom, 'application/atom+xml', '');
    expect(items).toHaveLength(4);
    expect((await (await fetch(first.json)).json()) as object).toMatchObject({ items: { length: 4 } });
    const { feed: second } = await on();
    expect((await fetch(first.atom)).status).toBe(404);
    expect((await fetch(second.atom)).status).toBe(200);
    await mo.ask('PUT', `${at()}/published`, { on: false });
    expect((await fetch(second.atom)).status).toBe(404);
  });

  it('keeps what was said in a room out of the feed', async () => {
    await house.connect('rooms');
    const room = (await outletsOf(house.services.pool, house.lidos)).find(({ kind }) => kind === 'room')!;
    const watch = await house.watch();
    await live(house, newVideos(watch, [room.id], 'For the crew: {$title}'));
    await uploadNow(house, watch, 'Who has the key');
    expect(await said('crew key')).toEqual(['For the crew: Who has the key']);
    const { feed } = (await mo.ask('PUT', `${at()}/published`, { on: true })).body as unknown as {
      feed: { json: string; atom: string };
    };
    for (const address of [feed.json, feed.atom]) {
      const text = await (await fetch(address)).text();
      expect(text).toContain('14 °C today');
      expect(text).not.toContain('For the crew');
    }
  });

  it('deleted and edited posts are found as such, and no longer in the feed', async () => {
    const [entry] = await logbookPage(house.services.pool, house.lidos, { words: 'cold' }, undefined, 1);
    await mo.ask('POST', `${at()}/posts/${entry!.key}/edits`, { text: 'Warm water, first time' });
    expect(await said('cold')).toEqual([]);
    expect(await said('warm')).toEqual(['Warm water, first time']);
    const changed = (what: 'edited' | 'deleted') =>
      logbookPage(house.services.pool, house.lidos, { changed: what }, undefined, 9).then((all) =>
        all.map(({ text }) => text),
      );
    expect(await changed('edited')).toEqual(['Warm water, first time']);
    expect(await changed('deleted')).toEqual([]);
    await mo.ask('DELETE', `${at()}/posts/${entry!.key}`);
    expect(await changed('deleted')).toEqual(['Warm water, first time']);
    const { feed } = (await mo.ask('PUT', `${at()}/published`, { on: true })).body as unknown as {
      feed: { json: string };
    };
    expect(await (await fetch(feed.json)).text()).not.toContain('Warm water');
  });
});
