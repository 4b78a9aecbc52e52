// Two colleagues at the same thing: nobody writes over what they have not seen.
import type { Server } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { auditOf } from '../store/audit.ts';
import { keepContact } from '../store/contacts.ts';
import { contactBy } from '../store/contacts-shown.ts';
import { change, select } from '../db/database.ts';
import { openHouse, type House } from '../testing/house.ts';
import { drawnPicture } from '../testing/pictures.ts';
import { PASSWORD, Visitor } from '../testing/visitor.ts';
import { hashPassword } from '../vault/password.ts';
import { makeApp } from './app.ts';
import { ChangeTail } from './events.ts';

let house: House;
let server: Server;
let tail: ChangeTail;
let mo: Visitor;
beforeAll(async () => {
  house = await openHouse();
  const hash = await hashPassword(PASSWORD);
  await change(house.services.pool, 'UPDATE users SET password_hash = ? WHERE id = ?', [hash, house.mo]);
  tail = new ChangeTail(house.services);
  server = makeApp(house.services, tail).listen(Number(house.env.PLAYA_PORT), '127.0.0.1');
  mo = new Visitor(house.env.PLAYA_ORIGIN!);
  await mo.signIn('mo@ternbay.example');
});
afterAll(async () => {
  tail?.stop();
  server?.closeAllConnections();
  server?.close();
  await house?.close();
});
const at = () => `/brands/${house.lidos}`;

/** Two change what both have seen: who is second is told, sees what is there, and may go on from it. */
async function twoChange(change: {
  method: string;
  path: string;
  /** What both have seen. */
  seen: string;
  first: object;
  second: object;
}) {
  const ask = (what: object, revision: unknown) =>
    mo.ask(change.method, `${at()}${change.path}`, { ...what, revision });
  expect((await ask(change.first, change.seen)).status).toBeLessThan(300);
  const refused = await ask(change.second, change.seen);
  expect(refused.status).toBe(409);
  expect(refused.body).toMatchObject({ code: 'conflict', title: expect.stringMatching(/changed .* since you opened/) });
  expect(refused.body.current).not.toBe(change.seen);
  return { over: () => ask(change.second, refused.body.current) };
}

describe('who was second', () => {
  it('does not write over the policy', async () => {
    const read = async () => (await mo.ask('GET', `${at()}/desk/policy`)).body;
    const { policy, revision } = (await read()) as unknown as { policy: object; revision: string };
    const first = { policy: { ...policy, otherwise: 'ignore' } };
    const second = { policy: { ...policy, otherwise: 'hold' } };
    const { over } = await twoChange({ method: 'PUT', path: '/desk/policy', seen: revision, first, second });
    expect((await read()).policy).toMatchObject({ otherwise: 'ignore' });
    expect((await over()).status).toBe(204);
    expect((await read()).policy).toMatchObject({ otherwise: 'hold' });
  });
  it('does not write over how the brand sounds', async () => {
    const read = async () => (await mo.ask('GET', `${at()}/desk/voice`)).body;
    const { voice, revision } = (await read()) as unknown as { voice: object; revision: string };
    const first = { voice: { ...voice, tone: 'Warm' } };
    const second = { voice: { ...voice, tone: 'Brisk' } };
    const { over } = await twoChange({ method: 'PUT', path: '/desk/voice', seen: revision, first, second });
    expect((await read()).voice).toMatchObject({ tone: 'Warm' });
    expect((await over()).status).toBe(204);
  });
  it('does not write over a snippet, nor make one that a colleague has made meanwhile', async () => {
    const path = '/snippets/sign-off';
    const made = await mo.ask('PUT', `${at()}${path}`, { text: 'Your crew', revision: null });
    expect(made.status).toBe(204);
    expect((await mo.ask('PUT', `${at()}${path}`, { text: 'The crew', revision: null })).status).toBe(409);
    const read = async () => (await mo.ask('GET', `${at()}/snippets`)).body.snippets as { revision: string }[];
    const [{ revision } = { revision: '' }] = await read();
    const { over } = await twoChange({
      ...{ method: 'PUT', path, seen: revision },
      first: { text: 'Ana and crew' },
      second: { text: 'Mo and crew' },
    });
    expect(await read()).toMatchObject([{ text: 'Ana and crew' }]);
    expect((await over()).status).toBe(204);
    // One that is gone is not made anew by who only meant to change it.
    expect((await mo.ask('DELETE', `${at()}${path}`)).status).toBe(204);
    const gone = await mo.ask('PUT', `${at()}${path}`, { text: 'Nobody', revision });
    expect(gone.body).toMatchObject({ status: 409, current: null });
  });
  it('does not write over what a file shows', async () => {
    const added = await mo.ask('POST', `${at()}/files?name=Wall`, await drawnPicture(40, 30));
    const { id, revision } = added.body.file as { id: number; revision: string };
    const { over } = await twoChange({
      ...{ method: 'PUT', path: `/files/${id}`, seen: revision },
      first: { name: 'Wall', alt: 'The wall at high tide' },
      second: { name: 'Tide wall', alt: 'A wall' },
    });
    expect((await over()).status).toBe(204);
    const [deed] = await select(
      house.services.pool,
      "SELECT did, was, became FROM audit WHERE about = 'file' ORDER BY id DESC LIMIT 1",
      [],
    );
    expect(deed).toEqual({ did: 'changed', was: 'Wall: The wall at high tide', became: 'Tide wall: A wall' });
  });
  it('does not write over what is known of what comes to a web hook, learned meanwhile or written by a colleague', async () => {
    const { id } = (await mo.ask('POST', `${at()}/sources/hook`, { name: 'Closures' })).body;
    const path = `/sources/${id}/hook`;
    const read = async () =>
      (await mo.ask('GET', `${at()}${path}`)).body as unknown as { address: string; schema: object; revision: string };
    expect((await read()).revision).toEqual(expect.any(String));
    const send = async (body: object) => {
      const headers = { 'content-type': 'application/json' };
      await fetch((await read()).address, { method: 'POST', body: JSON.stringify(body), headers });
      await house.settle();
    };
    await send({ number: 7 });
    const { schema, revision } = await read();
    await send({ number: 8, why: 'storm' });
    const mine = { schema: { ...schema, properties: { number: { type: 'string' } } } };
    const refused = await mo.ask('POST', `${at()}${path}`, { ...mine, revision });
    expect([refused.status, (await read()).schema]).toMatchObject([409, { properties: { why: { type: 'string' } } }]);
    const { over } = await twoChange({
      ...{ method: 'POST', path, seen: (await read()).revision },
      first: { schema: { type: 'object', properties: { number: { type: 'number' } } } },
      second: mine,
    });
    expect((await over()).status).toBe(200);
    expect((await read()).schema).toEqual(mine.schema);
    // Whoever has seen nothing cannot say what it should be; the rest is changed without it.
    expect((await mo.ask('POST', `${at()}${path}`, mine)).status).toBe(422);
    expect((await mo.ask('POST', `${at()}${path}`, { signed: true })).status).toBe(200);
  });
  it('does not write over what is noted of somebody, and labels of both are kept', async () => {
    const { pool } = house.services;
    const of = { person: 'ana', network: 'pages', name: 'Ana' };
    const person = await keepContact(pool, house.lidos, of, house.clock.now);
    const { revision } = (await contactBy(pool, house.lidos, person))!;
    const note = (noted: object) => mo.ask('PATCH', `${at()}/contacts/${person}`, noted);
    expect((await note({ notes: { text: 'Swims at seven', revision } })).status).toBe(200);
    const second = await note({ notes: { text: 'Swims at eight', revision } });
    expect(second.status).toBe(409);
    expect((await contactBy(pool, house.lidos, person))!.notes).toBe('Swims at seven');
    const over = await note({ notes: { text: 'Swims at eight', revision: second.body.current } });
    expect(over.body.notes).toBe('Swims at eight');
    const [one, other] = [{ labels: { add: ['regular'] } }, { labels: { add: ['member'], remove: ['guest'] } }];
    await Promise.all([note(one), note(other)]);
    expect((await contactBy(pool, house.lidos, person))!.labels).toEqual(['member', 'regular']);
    // What is so already is nobody's deed.
    const deeds = async () => (await auditOf(pool, house.lidos, 'contact', [person])).length;
    const before = await deeds();
    const kept = (await contactBy(pool, house.lidos, person))!;
    await note({ labels: { add: ['regular'] }, notes: { text: kept.notes, revision: kept.revision }, leftAlone: null });
    expect(await deeds()).toBe(before);
  });
});
