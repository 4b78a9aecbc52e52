// Accounts of every kind at work: push subscriptions, reading with a sign-in, keys, outlets by address, and what a revoked account
// leaves waiting.
import { createHmac } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { Webhook } from 'standardwebhooks';
import { brandById } from '../store/users.ts';
import { accountBy } from '../store/accounts.ts';
import { subscriptionOf } from '../store/push-subscriptions.ts';
import { noticesFor } from '../store/notices.ts';
import { outletBy, outletsOf } from '../store/outlets.ts';
import { watchBy } from '../store/watches.ts';
import { openHouse, type House } from '../testing/house.ts';
import { serve } from '../testing/told.ts';
import { live } from '../testing/workflow.ts';
import { lookAtDue, lookNow } from '../watch/look.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { receivePush } from './push-subscriptions.ts';
import { refreshOutlets } from './connect.ts';
import { checkOutlet, createOutlet, openOutlet, removeTestPost, sendTestPost } from './outlets.ts';
import { accountsOverview } from './overview.ts';
import { accountsOf } from '../store/accounts.ts';
import { sessionFor } from './sessions.ts';
import { connectByForm, missingScopes } from './sign-in.ts';
import { runsOf } from '../testing/runs-of.ts';

let house: House;
/** What Lagoon has called, so that a test can see the real calls and hand them on. */
let calls: { path: string; body: Buffer; headers: Record<string, string | undefined> }[] = [];
let callbacks: Server;
beforeAll(async () => {
  house = await openHouse();
  callbacks = createServer((req, res) => {
    const chunks: Buffer[] = [];
    req.on('data', (chunk: Buffer) => chunks.push(chunk));
    req.on('end', () => {
      calls.push({ path: req.url ?? '', body: Buffer.concat(chunks), headers: req.headers as Record<string, string> });
      res.writeHead(202).end();
    });
  });
  await new Promise<void>((done) => callbacks.listen(Number(house.env.PLAYA_PORT), '127.0.0.1', done));
});
afterAll(async () => {
  callbacks?.close();
  await house?.close();
});
beforeEach(() => void (calls = []));

async function called(count = 1) {
  for (let tries = 0; calls.length < count && tries < 100; tries++) await new Promise((done) => setTimeout(done, 30));
  return calls[0]!;
}
/** A live workflow that answers what is watched at an outlet. */
async function answering(outlet: string, what: string, words = 'Thank you, {$person.name}.') {
  const found = await house.outlet(outlet);
  const watch = await watchOutlet(house.services, house.lidos, found.id, what);
  await lookNow(house.services, watch);
  const id = await live(house, {
    schema: 1,
    sources: [{ id: 'source', watch }],
    steps: [
      { id: 'words', verb: 'compose', name: 'answer', text: words },
      { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
    ],
  });
  return { id, watch };
}
const look = async () => {
  await lookAtDue(house.services, 64);
  await house.settle();
};

describe('a network that tells', () => {
  it('is asked to, signed; its call makes Playa look, and what is new is answered where it was written', async () => {
    await house.connect('photos');
    await house.play({
      do: 'photo',
      profile: 'ternbaylidos',
      caption: 'First light',
      picture: `${house.lagoon}/pages/pictures/a.jpg`,
    });
    const { id, watch } = await answering('@ternbaylidos', 'comments');
    house.clock.now += 60_000;
    await look();
    expect(await subscriptionOf(house.services.pool, watch)).toBeDefined();
    // Told of nothing, it would look again only after a long while.
    const due = (await watchBy(house.services.pool, house.lidos, watch))!.dueAt!;
    expect(due - house.clock.now).toBeGreaterThan(20 * 60_000);

    await house.play({ do: 'comment', profile: 'ternbaylidos', by: 'Ana Prata', text: 'When do you open?' });
    const call = await called();
    const token = call.path.split('/').at(-1)!;
    expect(
      await receivePush(house.services, token, call.body, { ...call.headers, 'x-lagoon-digest': 'sha256=00' }),
    ).toBe('forged');
    expect(await receivePush(house.services, 'nobody', call.body, call.headers)).toBe('unknown');
    expect(await receivePush(house.services, token, call.body, call.headers)).toBe('taken');
    await look();
    expect((await runsOf(house.services.pool, house.lidos, id, 10)).map((run) => run.status)).toEqual(['done']);
    const comments = await house.things<{ text: string; under: number | null }>('photos', 'comment');
    expect(comments.at(-1)!.body).toMatchObject({ text: 'Thank you, Ana Prata.', under: comments.at(-2)!.id });
    // Its own answer starts nothing.
    await look();
    expect(await runsOf(house.services.pool, house.lidos, id, 10)).toHaveLength(1);
  });

  it('signs as Standard Webhooks where it says so', async () => {
    await house.connect('bookings');
    const outlet = await house.outlet('Sunrise swim');
    const watch = await watchOutlet(house.services, house.lidos, outlet.id, 'bookings');
    await lookNow(house.services, watch);
    await live(house, {
      schema: 1,
      sources: [{ id: 'source', watch }],
      steps: [{ id: 'tell', verb: 'notify', to: [], text: 'Somebody has booked.' }],
    });
    house.clock.now += 1000;
    await look();
    await house.play({ do: 'booking', type: 'Sunrise swim', by: 'Bea Lund' });
    const call = await called();
    expect(call.headers['webhook-id']).toMatch(/^msg_/);
    const token = call.path.split('/').at(-1)!;
    expect(await receivePush(house.services, token, call.body, call.headers)).toBe('taken');
    expect(await receivePush(house.services, token, Buffer.from('{}'), call.headers)).toBe('forged');
  });
});

describe('several places', () => {
  it('are answered each in its own name by one workflow', async () => {
    await house.connect('listings');
    const outlets = await outletsOf(house.services.pool, house.lidos);
    const places = ['Tern Bay Lido', 'Gannet Point Pool'].map((name) => outlets.find((each) => each.name === name)!);
    const watches = [];
    for (const place of places) {
      const watch = await watchOutlet(house.services, house.lidos, place.id, 'reviews');
      await lookNow(house.services, watch);
      watches.push(watch);
    }
    await live(house, {
      schema: 1,
      sources: watches.map((watch, index) => ({ id: `s${index}`, watch })),
      steps: [
        { id: 'words', verb: 'compose', name: 'answer', text: 'Thank you for {$stars} stars at {$outlet.name}.' },
        { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
      ],
    });
    for (const place of places)
      await house.play({ do: 'review', location: place.name, by: 'Teo Vance', stars: 5, text: null });
    house.clock.now += 3_600_000;
    await look();
    const replies = (await house.things<{ reply: { text: string } | null }>('listings', 'review')).flatMap(
      (each) => each.body.reply?.text ?? [],
    );
    expect(replies).toEqual(
      expect.arrayContaining([
        'Thank you for 5 stars at Tern Bay Lido.',
        'Thank you for 5 stars at Gannet Point Pool.',
      ]),
    );
  });
});

describe('a revoked account', () => {
  it('pauses what depends on it, tells once, and catches up after being connected again, losing nothing', async () => {
    const accountId = await house.connect('microblog');
    const { id } = await (async () => {
      const found = await house.outlet('@ternbaylidos', accountId);
      const own = await openOutlet(house.services, house.lidos, accountId, '@harbourmaster');
      const watch = await watchOutlet(house.services, house.lidos, own, 'notes');
      await lookNow(house.services, watch);
      return {
        id: await live(house, {
          schema: 1,
          sources: [{ id: 'source', watch }],
          steps: [
            { id: 'words', verb: 'compose', name: 'caption', text: 'The harbour master says: {$text}' },
            { id: 'post', verb: 'publish', outlets: [found.id], caption: 'caption', card: null },
          ],
        }),
      };
    })();
    await house.revoke('microblog');
    for (const text of ['Gale warning one', 'Gale warning two'])
      await house.play({ do: 'note', profile: 'harbourmaster', text });
    for (let hours = 0; hours < 3; hours++) {
      house.clock.now += 3_600_000;
      await look();
    }
    expect((await accountBy(house.services.pool, house.lidos, accountId))!.status).toBe('reconnect');
    const told = (await noticesFor(house.services.pool, house.lidos, house.mo, 50)).filter((each) =>
      each.text.includes('connected again'),
    );
    expect(told).toHaveLength(1);

    expect(await house.connect('microblog')).toBe(accountId);
    await look();
    house.clock.now += 60_000;
    await look();
    const notes = (await house.things<{ text: string }>('microblog', 'note')).map((each) => each.body.text);
    for (const text of ['Gale warning one', 'Gale warning two'])
      expect(notes.filter((note) => note === `The harbour master says: ${text}`)).toHaveLength(1);
    expect(await runsOf(house.services.pool, house.lidos, id, 10)).toHaveLength(2);
  });
});

describe('outlets', () => {
  it('are opened by any form of their address, and looked at: a bot that is no administrator is told how to become one', async () => {
    const account = await house.connect('broadcast');
    const id = await openOutlet(house.services, house.lidos, account, '@coastdigest');
    expect(await outletBy(house.services.pool, house.lidos, id)).toMatchObject({
      name: 'Coast digest',
      trouble: 'The bot is not an administrator here.',
      remedy: 'Add it, then check again.',
    });
    const water = await openOutlet(house.services, house.lidos, account, `${house.lagoon}/broadcast/c/ternbaywater`);
    for (const form of [
      '@ternbaywater',
      'ternbaywater',
      '/c/ternbaywater/',
      ' “@TernBayWater”, ',
      '127.0.0.1/broadcast/join/kD3vW8pQ',
    ])
      expect(await openOutlet(house.services, house.lidos, account, form)).toBe(water);
    expect(await checkOutlet(house.services, house.lidos, water)).toEqual({ ok: true });
    await expect(openOutlet(house.services, house.lidos, account, 'two words')).rejects.toThrow('does not read as');
    await expect(openOutlet(house.services, house.lidos, account, '@nosuchthing')).rejects.toThrow('no such channel');
    // They stay when the network, which lists nothing, is asked for its list.
    await refreshOutlets(house.services, house.lidos, account);
    expect((await outletBy(house.services.pool, house.lidos, water))!.gone).toBe(false);
  });

  it('are made at the network: a board with a section, a table with columns', async () => {
    const boards = await house.connect('boards');
    const made = await createOutlet(house.services, house.lidos, boards, 'board', { name: 'Towels', section: 'Blue' });
    expect((await outletBy(house.services.pool, house.lidos, made))!.name).toBe('Towels · Blue');
    await expect(createOutlet(house.services, house.lidos, boards, 'board', { name: 'towels' })).rejects.toThrow(
      'already have a board',
    );
    await expect(createOutlet(house.services, house.lidos, boards, 'board', { name: ' ' })).rejects.toThrow('is empty');
    const section = { board: 'towels', name: 'Green' };
    const green = await createOutlet(house.services, house.lidos, boards, 'section', section);
    expect((await outletBy(house.services.pool, house.lidos, green))!.name).toBe('Towels · Green');
    const sheets = await house.connect('sheets');
    const table = await createOutlet(house.services, house.lidos, sheets, 'table', {
      file: 'Marketing',
      name: 'Towels',
      columns: 'Colour, Count',
    });
    expect((await outletBy(house.services.pool, house.lidos, table))!.details.columns).toEqual([
      { name: 'Colour', type: 'text' },
      { name: 'Count', type: 'text' },
    ]);
  });

  it('get a test that says so, and that is taken away again', async () => {
    await house.connect('rooms');
    const room = await house.outlet('#general · Tern Bay crew');
    const sent = await sendTestPost(house.services, house.lidos, room.id);
    const messages = () => house.things<{ text: string }>('rooms', 'message');
    expect((await messages()).at(-1)!.body.text).toBe('This is a test from Playa. Please take no notice.');
    expect(sent).toMatchObject({ removable: true, url: expect.stringContaining('/rooms/c/') as string });
    const before = (await messages()).length;
    // Nothing but a test goes, and only at the outlet it was sent to.
    const [first] = await messages();
    for (const ticket of [String(first!.id), sent.ticket.slice(0, -4), ''])
      await expect(removeTestPost(house.services, house.lidos, room.id, ticket)).rejects.toThrow('not a test');
    await removeTestPost(house.services, house.lidos, room.id, sent.ticket);
    expect(await messages()).toHaveLength(before - 1);
    const notices = await house.outlet('#notices · Tern Bay crew');
    expect(await checkOutlet(house.services, house.lidos, notices.id)).toMatchObject({
      ok: false,
      trouble: 'Only people may write in this room.',
    });
    await expect(sendTestPost(house.services, house.lidos, notices.id)).rejects.toThrow('Bots may not write');
  });

  it('of a personal profile say what to do', async () => {
    const personal = await house.outlet('@mo.okoro');
    expect(await checkOutlet(house.services, house.lidos, personal.id)).toMatchObject({
      ok: false,
      remedy: expect.stringContaining('business profile') as string,
    });
  });
});

describe('signing in with a key', () => {
  it('refuses a wrong one with nothing stored, and keeps nothing readable of a right one', async () => {
    const brand = (await brandById(house.services.pool, house.lidos))!;
    const count = async () => (await accountsOf(house.services.pool, house.lidos)).length;
    const before = await count();
    await expect(connectByForm(house.services, brand, 'helpdesk', { token: 'hel_wrong' })).rejects.toThrow(
      'copied as a whole',
    );
    await expect(connectByForm(house.services, brand, 'helpdesk', { token: '  ' })).rejects.toThrow('Key is empty');
    expect(await count()).toBe(before);
    const account = (await accountBy(house.services.pool, house.lidos, await house.connect('helpdesk')))!;
    const token = await sessionFor(house.services, account).token();
    const shown = JSON.stringify(
      await accountsOverview(house.services, house.lidos, await accountsOf(house.services.pool, house.lidos)),
    );
    expect(shown).not.toContain(token);
  });

  it('says what was not allowed at a consent', () => {
    expect(missingScopes(house.services.connectors.photos, 'profiles photos')).toEqual([
      'read, answer and like comments',
      'read and write messages',
    ]);
    expect(missingScopes(house.services.connectors.photos, null)).toEqual([]);
  });
});

it('many keyed writes at one moment all get through, each once', async () => {
  const account = (await accountBy(house.services.pool, house.lidos, await house.connect('sheets')))!;
  const session = sessionFor(house.services, account);
  const table = (await house.outlet('Marketing · Ideas', account.id)).remoteId;
  const { send } = house.services.connectors.sheets.acts.record!;
  const writes = Array.from({ length: 40 }, (_, n) =>
    send(session, table, { match: null, values: { Caption: `Idea ${n % 20}` } }, `many.${n % 20}`),
  );
  expect(new Set((await Promise.all(writes)).map((row) => row.remoteId)).size).toBe(20);
});

describe('a text model', () => {
  it('words the same for the same seed, keeps to the length, counts what it used, and answers nobody without a key', async () => {
    const account = (await accountBy(house.services.pool, house.lidos, await house.connect('text-model')))!;
    const session = sessionFor(house.services, account);
    const { send } = house.services.connectors['text-model'].acts.draft!;
    const asked = {
      instruction: 'Answer kindly, in two sentences.',
      about: 'name: Ana Prata\nstars: 5\nThe water was clear.',
      longest: 120,
      variety: 0.7,
      seed: 7,
    };
    const first = await send(session, 'tide-small', asked, 'k1');
    expect(first.result!.text).toMatch(/Ana/);
    expect(String(first.result!.text).length).toBeLessThanOrEqual(120);
    expect(first.result!.used).toBeGreaterThan(10);
    expect((await send(session, 'tide-small', asked, 'k2')).result).toEqual(first.result);
    await expect(send({ ...session, token: async () => 'dra_wrong' }, 'tide-small', asked, 'k3')).rejects.toMatchObject(
      {
        kind: 'reconnect',
      },
    );
    const bare = await fetch(`${house.lagoon}/text-model/v1/drafts`, { method: 'POST', body: '{}' });
    expect(bare.status).toBe(401);
  });
});

describe('letters', () => {
  it('are sent by real SMTP, and arrive with subject and words; a mailbox that is not there is refused', async () => {
    const account = (await accountBy(house.services.pool, house.lidos, await house.connect('mail')))!;
    const session = sessionFor(house.services, account);
    const { send } = house.services.connectors.mail.acts.message!;
    const letter = { to: 'crew@ternbay.example', text: 'Olá 🌊\nline two', subject: 'A gate is open' };
    await send(session, 'mo@ternbay.example', letter, 'run.step.1.0');
    const [arrived] = (
      await house.things<{ subject: string; text: string; messageId: string }>('mail', 'letter')
    ).slice(-1);
    expect(arrived!.body).toMatchObject({ subject: 'A gate is open', text: 'Olá 🌊\nline two\n' });
    expect(arrived!.body.messageId).toBe('<run.step.1.0@ternbay.example>');
    await expect(send(session, 'x', { ...letter, to: 'nobody@ternbay.example' }, 'k2')).rejects.toMatchObject({
      kind: 'fix',
      definite: true,
    });
    await expect(send(session, 'x', { ...letter, to: 'not an address' }, 'k3')).rejects.toThrow('not a mail address');
    const brand = (await brandById(house.services.pool, house.lidos))!;
    const wrong = { user: 'mo', password: 'wrong', from: 'mo@ternbay.example' };
    await expect(connectByForm(house.services, brand, 'mail', wrong)).rejects.toThrow('does not accept');
    // Nothing inside the network is reached under the name of a mail server.
    await expect(connectByForm(house.services, brand, 'mail', { ...wrong, server: '10.0.0.1:25' })).rejects.toThrow(
      'private network',
    );
  });
});

describe('web hooks out', () => {
  it('are signed as Standard Webhooks, and keep their id for every try', async () => {
    const heard: { headers: Record<string, string>; body: string }[] = [];
    let status = 204;
    const { server, host } = await serve((req, body, res) => {
      heard.push({ headers: req.headers as Record<string, string>, body });
      res.writeHead(status).end();
    });
    const other = await openHouse({}, [host]);
    try {
      const secret = `whsec_${Buffer.from('a-key-of-24-bytes-length').toString('base64')}`;
      const brand = (await brandById(other.services.pool, other.lidos))!;
      const id = await connectByForm(other.services, brand, 'webhook', { address: `http://${host}/told`, secret });
      const session = sessionFor(other.services, (await accountBy(other.services.pool, other.lidos, id))!);
      const { send } = other.services.connectors.webhook.acts.publish!;
      await send(session, 'address', { text: 'Hello 🌊', card: null }, 'key-1');
      await send(session, 'address', { text: 'Hello 🌊', card: null }, 'key-1');
      expect(heard.map(({ headers }) => headers['webhook-id'])).toEqual(['key-1', 'key-1']);
      const [first] = heard;
      const at = new Date(Number(first!.headers['webhook-timestamp']) * 1000);
      expect(Math.abs(at.getTime() - other.clock.now)).toBeLessThan(60_000);
      expect(first!.headers['webhook-signature']).toBe(new Webhook(secret).sign('key-1', at, first!.body));
      expect(JSON.parse(first!.body)).toMatchObject({
        type: 'playa.post',
        data: { text: 'Hello 🌊' },
      });
      for (const [answer, kind] of [
        [410, 'reconnect'],
        [429, 'wait'],
        [500, 'unknown'],
        [400, 'fix'],
      ] as const) {
        status = answer;
        await expect(send(session, 'address', { text: 'x', card: null }, 'key-2')).rejects.toMatchObject({ kind });
      }
    } finally {
      await other.close();
      server.close();
    }
  });
});

it('the digest of a push is the HMAC-SHA256 of RFC 4231, test case 2', () => {
  const digest = createHmac('sha256', 'Jefe').update('what do ya want for nothing?').digest('hex');
  expect(digest).toBe('5bdcc146bf60754e6a042426089575c75a003f089d2739839dec58b964ec3843');
});
