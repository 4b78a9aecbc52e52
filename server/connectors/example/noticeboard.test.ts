import type { Server } from 'node:http';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Guard } from '../../guard/guard.ts';
import { serve } from '../../testing/told.ts';
import type { Session } from '../connector.ts';
import { noticeboard } from './noticeboard.ts';

// The worked example at work: the guide shows code that runs.
let server: Server;
let session: Session;
const notices: { id: string; words: string; page: string; pinned: string }[] = [];
let silent = false;
beforeAll(async () => {
  let host = '';
  ({ server, host } = await serve((req, body, res) => {
    const json = (value: unknown, status = 200) => res.writeHead(status).end(JSON.stringify(value));
    if (req.headers['x-noticeboard-key'] !== 'k') return json({ sorry: 'Who are you?' }, 401);
    if (req.url === '/me') return json({ id: '7', name: 'Mo' });
    if (req.url === '/boards') return json([{ id: 'b1', title: 'By the gate', page: `http://${host}/b1` }]);
    if (req.method === 'DELETE') {
      const index = notices.findIndex((each) => req.url!.endsWith(`/${each.id}`));
      if (index < 0) return json({ sorry: 'It is gone.' }, 404);
      notices.splice(index, 1);
      return res.writeHead(204).end();
    }
    if (req.method !== 'POST') return json({ notices, older: null });
    const { words } = JSON.parse(body) as { words: string };
    if (words.length > 50) return json({ sorry: 'Too long for the board.' }, 422);
    const id = String(notices.length + 1);
    notices.unshift({ id, words, page: `http://${host}/n/${id}`, pinned: new Date().toISOString() });
    if (!silent) json(notices[0], 201);
  }));
  session = {
    network: { name: 'Notice boards', base: `http://${host}`, clientId: '', clientSecret: '' },
    guard: new Guard([host]),
    answerWithin: 400,
    now: Date.now,
    token: async () => 'k',
  };
});
afterAll(() => void server?.close());

it('signs in, lists, posts, finds after silence, reads, refuses and takes down', async () => {
  expect(await noticeboard.whoAmI(session)).toEqual({ remoteId: '7', name: 'Mo' });
  expect((await noticeboard.outlets(session, [])).map((outlet) => outlet.name)).toEqual(['By the gate']);
  const publish = noticeboard.acts.publish!;
  const sent = await publish.send(session, 'b1', { text: 'Lost: a towel 🌊', card: null }, 'key');
  expect(sent.url).toMatch(/\/n\/1$/);

  silent = true;
  const since = Date.now();
  const lost = { text: 'Did you hear?', card: null };
  await expect(publish.send(session, 'b1', lost, 'key')).rejects.toMatchObject({ kind: 'unknown' });
  silent = false;
  expect(await publish.find!(session, 'b1', lost, since)).toMatchObject({ remoteId: '2' });
  expect(await publish.find!(session, 'b1', { text: 'Never said', card: null }, since)).toBeUndefined();

  const items = await noticeboard.watches!.notices!.read(session, 'b1', new Set());
  expect(items.map((item) => item.fields.text)).toEqual(['Did you hear?', 'Lost: a towel 🌊']);
  await expect(publish.send(session, 'b1', { text: 'x'.repeat(51), card: null }, 'k')).rejects.toMatchObject({
    kind: 'fix',
    message: 'Notice boards refuses it: Too long for the board.',
  });
  const revise = noticeboard.acts.revise!;
  for (let times = 0; times < 2; times++)
    await revise.send(session, 'b1', { post: '1', change: 'delete', text: null }, 'k');
  await expect(revise.send(session, 'b1', { post: '2', change: 'pin', text: null }, 'k')).rejects.toThrow(
    'does not offer',
  );
  await expect(noticeboard.whoAmI({ ...session, token: async () => 'wrong' })).rejects.toMatchObject({
    kind: 'reconnect',
  });
});
