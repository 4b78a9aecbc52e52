// The calendar outside Playa: files, an address for other calendars, posts read from a file.
import type { Server } from 'node:http';
import ICAL from 'ical.js';
import { DateTime } from 'luxon';
import ExcelJS from 'exceljs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { newPost } from '@playa/core/posts/written.ts';
import { readDelimited } from '@playa/core/sheets/delimited.ts';
import { change } from '../db/database.ts';
import { makePost } from '../posts/keep-post.ts';
import { openHouse, type House } from '../testing/house.ts';
import { PASSWORD, Visitor } from '../testing/visitor.ts';
import { hashPassword } from '../vault/password.ts';
import { makeApp } from './app.ts';
import { ChangeTail } from './events.ts';

const ZONE = 'Europe/Lisbon';
const HOUR = 3_600_000;
const DAY = 24 * HOUR;
let house: House;
let server: Server;
let tail: ChangeTail;
let mo: Visitor;
let page: number;
beforeAll(async () => {
  house = await openHouse();
  await change(house.services.pool, 'UPDATE users SET password_hash = ? WHERE id = ?', [
    await hashPassword(PASSWORD),
    house.mo,
  ]);
  house.clock.now = Math.ceil(house.clock.now / 60_000) * 60_000;
  tail = new ChangeTail(house.services);
  server = makeApp(house.services, tail).listen(Number(house.env.PLAYA_PORT), '127.0.0.1');
  mo = new Visitor(house.env.PLAYA_ORIGIN!);
  await mo.signIn('mo@ternbay.example');
  await house.connect('pages');
  page = await house.page();
});
afterAll(async () => {
  tail?.stop();
  server?.closeAllConnections();
  server?.close();
  await house?.close();
});
const at = (path: string) => `/brands/${house.lidos}${path}`;
const span = () => `from=${house.clock.now - 5 * DAY}&to=${house.clock.now + 20 * DAY}`;
const wall = (moment: number) => DateTime.fromMillis(moment, { zone: ZONE }).toFormat("yyyy-MM-dd'T'HH:mm");
const fetched = async (path: string) => {
  const answer = await fetch(`${house.env.PLAYA_ORIGIN}${path}`, { headers: { cookie: mo.cookie } });
  return {
    status: answer.status,
    type: answer.headers.get('content-type'),
    bytes: Buffer.from(await answer.arrayBuffer()),
  };
};
const events = (text: string) =>
  new ICAL.Component(ICAL.parse(text) as unknown[]).getAllSubcomponents('vevent').map((each) => new ICAL.Event(each));
async function write(text: string, moment: number, state: 'draft' | 'ready') {
  const post = newPost([page], wall(moment));
  return makePost(house.services, house.lidos, { state, post: { ...post, compose: { ...post.compose, text } } });
}

describe('the calendar in other calendars', () => {
  it('has the same event for a post while it is written, planned and out, at an address that can be taken back', async () => {
    const { feed } = (await mo.ask('PUT', at('/calendar/address'), { on: true })).body as unknown as {
      feed: { ics: string };
    };
    const path = feed.ics.replace(house.env.PLAYA_ORIGIN!, '');
    const soon = house.clock.now + HOUR;
    const id = await write('A dip before work', soon, 'draft');
    const keys = new Set<string>();
    const stages: [string, string][] = [];
    const uids = new Set<string>();
    const look = async () => {
      // Without signing in: whoever has the address.
      const answer = await fetch(`${house.env.PLAYA_ORIGIN}${path}`);
      expect(answer.headers.get('content-type')).toMatch(/^text\/calendar/);
      const [mine] = events(await answer.text()).filter(({ summary }) => summary?.startsWith('A dip before work'));
      expect(mine!.startDate.toJSDate().getTime() - soon).toBeLessThan(60_000);
      uids.add(mine!.uid!);
      const { posts } = (await mo.ask('GET', `${at('/calendar')}?${span()}`)).body as unknown as {
        posts: { key: string; title: string }[];
      };
      keys.add(posts.find(({ title }) => title === 'A dip before work')!.key);
      stages.push([String(mine!.component.getFirstPropertyValue('status')), mine!.description!.split('\n')[0]!]);
    };
    await look();
    const { body } = await mo.ask('GET', at(`/written/${id}`));
    await mo.ask('PUT', at(`/written/${id}`), { state: 'ready', post: body.post, revision: body.revision });
    await house.settle();
    await look();
    house.clock.now = soon + 1000;
    await house.settle();
    await look();
    expect(stages).toEqual([
      ['TENTATIVE', 'a draft'],
      ['CONFIRMED', 'planned'],
      ['CONFIRMED', 'is out'],
    ]);
    expect([uids.size, keys.size]).toEqual([1, 1]);
    await mo.ask('PUT', at('/calendar/address'), { on: true });
    expect((await fetch(`${house.env.PLAYA_ORIGIN}${path}`)).status).toBe(404);
    // The address of what is published opens no calendar.
    const published = (await mo.ask('PUT', at('/published'), { on: true })).body as unknown as {
      feed: { atom: string };
    };
    const token = published.feed.atom.split('/').at(-1)!.replace('.atom', '');
    expect((await fetch(`${house.env.PLAYA_ORIGIN}/calendar/${token}.ics`)).status).toBe(404);
  });
  it('is a file in three kinds, and read back by libraries of others', async () => {
    await write('=1+1 is no sum', house.clock.now + 2 * DAY, 'ready');
    await house.settle();
    const ics = await fetched(`/api${at('/calendar/file')}?as=ics&${span()}`);
    expect(events(ics.bytes.toString()).some(({ summary }) => summary!.startsWith('=1+1 is no sum'))).toBe(true);
    const csv = readDelimited(
      (await fetched(`/api${at('/calendar/file')}?as=csv&${span()}`)).bytes.toString().slice(1),
    );
    const line = csv.find((each) => each.some((cell) => cell.includes('no sum')))!;
    expect(line.slice(1, 3)).toEqual(['Tern Bay Lidos', 'planned']);
    expect(line[3]).not.toMatch(/^=/);
    const book = new ExcelJS.Workbook();
    const { bytes } = await fetched(`/api${at('/calendar/file')}?as=xlsx&${span()}`);
    await book.xlsx.load(bytes as unknown as ArrayBuffer);
    const cells = book.worksheets[0]!.getRows(1, 5)!.map((row) => row.getCell(4).value);
    expect(cells[0]).toBe('Words');
    expect(cells).toContain('=1+1 is no sum');
    expect((await fetched(`/api${at('/calendar/file')}?as=csv&from=0&to=${house.clock.now}`)).status).toBe(422);
  });
});

describe('posts from a file', () => {
  const file = (moment: number) =>
    Buffer.from(
      `When,Where,Copy,State\n${wall(moment).replace('T', ' ')},Tern Bay Lidos,From a file,ready\nsoon,Tern Bay Lidos,Bad time,draft\n,Nowhere,Bad place,draft\n,,,ready\n,,"Lost, found",idea\n`,
    );
  it('are shown first, and then written together, without those that cannot be read', async () => {
    const body = file(house.clock.now + 3 * HOUR);
    const shown = await mo.ask('POST', at('/written/import?then=show'), body, {
      'content-type': 'application/octet-stream',
    });
    expect(shown.body).toMatchObject({ count: 5, bad: 3, made: 0 });
    const before = (await mo.ask('GET', `${at('/calendar')}?${span()}`)).body.posts as unknown[];
    const kept = await mo.ask('POST', at('/written/import?then=keep-good'), body, {
      'content-type': 'application/octet-stream',
    });
    expect(kept.body).toMatchObject({ made: 2 });
    await house.settle();
    const calendar = (await mo.ask('GET', `${at('/calendar')}?${span()}`)).body as unknown as {
      posts: { title: string; state: string }[];
      shelf: { title: string; stage: string }[];
    };
    expect(calendar.posts).toHaveLength(before.length + 1);
    expect(calendar.posts.find(({ title }) => title === 'From a file')?.state).toBe('planned');
    expect(calendar.shelf).toContainEqual(expect.objectContaining({ title: 'Lost, found', stage: 'idea' }));
  });
  it('that is no table, or holds too many, is refused with a reason', async () => {
    const broken = await mo.ask('POST', at('/written/import?then=show'), Buffer.from([0x50, 0x4b, 3, 4, 1, 2]), {
      'content-type': 'application/octet-stream',
    });
    expect([broken.status, typeof broken.body.title]).toEqual([422, 'string']);
    const many = Buffer.from(`Copy\n${'x\n'.repeat(501)}`);
    const answer = await mo.ask('POST', at('/written/import?then=show'), many, {
      'content-type': 'application/octet-stream',
    });
    expect(answer.body.title).toBe('A file has at most 500 posts; this one has 501.');
  });
});
