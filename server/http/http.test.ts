import type { Server } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { change, select } from '../db/database.ts';
import * as users from '../store/users.ts';
import { addWorkflow } from '../store/workflows.ts';
import { accountsOf } from '../store/accounts.ts';
import { orderAddress } from '../media/shape.ts';
import { openHouse, type House, testNow } from '../testing/house.ts';
import { PASSWORD, Visitor } from '../testing/visitor.ts';
import { live, newVideos, uploadNow } from '../testing/workflow.ts';
import { makeApp } from './app.ts';
import { ChangeTail } from './events.ts';
import { revisionOf } from '../db/revision.ts';
import { askDatabase } from './endpoints/health.ts';
import { hashPassword } from '../vault/password.ts';

let house: House;
let server: Server;
let tail: ChangeTail;
beforeAll(async () => {
  house = await openHouse();
  await change(house.services.pool, 'UPDATE users SET password_hash = ? WHERE id = ?', [
    await hashPassword(PASSWORD),
    house.mo,
  ]);
  const ines = await users.addUser(house.services.pool, {
    email: 'ines@marram.example',
    name: 'Ines Duarte',
    passwordHash: await hashPassword(PASSWORD),
  });
  await users.addMembership(house.services.pool, ines, house.bakehouse);
  tail = new ChangeTail(house.services);
  await tail.start();
  server = makeApp(house.services, tail).listen(Number(house.env.PLAYA_PORT), '127.0.0.1');
});
afterAll(async () => {
  tail?.stop();
  server?.closeAllConnections();
  server?.close();
  await house?.close();
});

const stranger = () => new Visitor(house.env.PLAYA_ORIGIN!);
const signedIn = async (email = 'mo@ternbay.example') => {
  const visitor = stranger();
  expect((await visitor.signIn(email)).status).toBe(204);
  return visitor;
};

describe('sign-in', () => {
  it('sets a cookie that scripts cannot read and other sites do not send', async () => {
    const { set } = await stranger().signIn('mo@ternbay.example');
    expect(set).toMatch(/HttpOnly/);
    expect(set).toMatch(/SameSite=Lax/);
    const [stored] = await select<{ password_hash: string }>(
      house.services.pool,
      'SELECT password_hash FROM users WHERE id = ?',
      [house.mo],
    );
    expect(stored!.password_hash).toMatch(/^\$argon2id\$v=19\$/);
  });
  it('says the same for a wrong password and an unknown person', async () => {
    const wrong = await stranger().signIn('mo@ternbay.example', 'nope');
    const nobody = await stranger().signIn('nobody@ternbay.example', 'nope');
    expect([wrong.status, wrong.body.title]).toEqual([nobody.status, nobody.body.title]);
    expect(wrong.headers.get('content-type')).toContain('application/problem+json');
  });
  it('is slowed down after a few failures, also for the right password, and nobody is locked out', async () => {
    const visitor = stranger();
    for (let n = 0; n < 6; n++) expect((await visitor.signIn('ines@marram.example', 'nope')).status).toBe(401);
    const slowed = await visitor.signIn('ines@marram.example');
    expect(slowed.status).toBe(429);
    expect(slowed.headers.get('retry-after')).toBe('20');
    house.clock.now += 20_000;
    expect((await visitor.signIn('ines@marram.example')).status).toBe(204);
    // Whoever signed in begins anew.
    expect((await stranger().signIn('ines@marram.example', 'nope')).status).toBe(401);
  });
  it('lets no more guesses through at once than one after the other', async () => {
    house.clock.now += 3_600_000;
    const guesses = await Promise.all(
      Array.from({ length: 40 }, (_, n) => stranger().signIn('guessed@ternbay.example', `guess ${n}`)),
    );
    expect(guesses.filter(({ status }) => status === 401)).toHaveLength(6);
    expect(guesses.filter(({ status }) => status === 429)).toHaveLength(34);
  });
  it('of others does not slow down a device at which the person signed in before', async () => {
    house.clock.now += 3_600_000;
    const own = await signedIn('mo@ternbay.example');
    await own.ask('POST', '/sign-out');
    for (let tries = 0; tries < 8; tries++) await stranger().signIn('mo@ternbay.example', 'nope');
    expect((await stranger().signIn('mo@ternbay.example')).status).toBe(429);
    expect((await own.signIn('mo@ternbay.example')).status).toBe(204);
    // What a device is known by opens nothing, and is of that person only.
    const device = stranger();
    device.cookie = own.cookie.split('; ').find((each) => each.startsWith('playa_device='))!;
    expect((await device.ask('GET', '/me')).status).toBe(401);
    expect((await device.signIn('mo@ternbay.example', 'nope')).status).toBe(401);
  });
  it('ends on all devices at once, when asked to', async () => {
    house.clock.now += 3_600_000;
    const [desk, phone] = [await signedIn(), await signedIn()];
    expect((await desk.ask('POST', '/sign-out/everywhere', {}, { 'x-csrf-token': '' })).status).toBe(403);
    expect((await desk.ask('POST', '/sign-out/everywhere')).status).toBe(204);
    expect((await phone.ask('GET', '/me')).status).toBe(401);
  });
  it('ends with sign-out, and by itself after two weeks', async () => {
    const visitor = await signedIn();
    const { cookie } = visitor;
    expect((await visitor.ask('POST', '/sign-out')).status).toBe(204);
    visitor.cookie = cookie;
    expect((await visitor.ask('GET', '/me')).status).toBe(401);
    const other = await signedIn();
    house.clock.now += 15 * 86_400_000;
    expect((await other.ask('GET', '/me')).status).toBe(401);
  });
  it('has no door without a key outside the demonstration', async () => {
    expect((await stranger().ask('GET', '/sign-in/ways')).body).toEqual({ demo: false });
    expect((await stranger().ask('POST', '/sign-in/demo')).status).toBe(404);
  });
});

describe('requests that change something', () => {
  it('need the session’s own token, and not come from another site', async () => {
    const visitor = await signedIn();
    const make = { name: 'x', definition: newVideos(1, []) };
    const path = `/brands/${house.lidos}/workflows`;
    expect((await visitor.ask('POST', path, make, { 'x-csrf-token': '' })).status).toBe(403);
    expect((await visitor.ask('POST', path, make, { origin: 'https://evil.example' })).status).toBe(403);
    expect((await visitor.ask('POST', path, make, { 'sec-fetch-site': 'cross-site' })).status).toBe(403);
    expect((await visitor.ask('POST', path, make)).status).toBe(201);
    expect(
      (
        await stranger().ask(
          'POST',
          '/sign-in',
          { email: 'mo@ternbay.example', password: PASSWORD },
          { origin: 'https://evil.example' },
        )
      ).status,
    ).toBe(403);
  });
});

describe('brands', () => {
  it('are shut to each other, whichever way one asks', async () => {
    await house.connect('pages');
    const watch = await house.watch();
    const workflow = await live(house, newVideos(watch, [await house.page()]), { last: 1, every: 0 });
    await house.settle();
    const [account] = await accountsOf(house.services.pool, house.lidos);
    const ines = await signedIn('ines@marram.example');
    // Under the other brand's own number: it does not exist.
    for (const path of [
      'today',
      'workflows',
      'accounts',
      'sources',
      'events',
      `workflows/${workflow}`,
      `items?watches=${watch}`,
    ]) {
      expect((await ines.ask('GET', `/brands/${house.lidos}/${path}`)).status, path).toBe(404);
    }
    // Under her own brand's number, with the other's ids.
    const own = `/brands/${house.bakehouse}`;
    const draft = { name: 'mine', definition: newVideos(watch, []), revision: 1 };
    const asked: [string, string, unknown?][] = [
      ['GET', `/workflows/${workflow}`],
      ['GET', `/workflows/${workflow}/runs`],
      ['PUT', `/workflows/${workflow}/draft`, draft],
      ['DELETE', `/workflows/${workflow}`],
      ['PATCH', `/accounts/${account!.id}`, { name: 'x' }],
    ];
    for (const [method, path, body] of asked)
      expect((await ines.ask(method, own + path, body)).status, `${method} ${path}`).toBe(404);
    expect((await ines.ask('POST', `${own}/workflows/${workflow}/live`, { revision: 1 })).status).toBe(404);
    expect((await ines.ask('POST', `${own}/workflows/${workflow}/pause`)).status).toBe(409);
    expect((await ines.ask('POST', `${own}/runs/1/decide`, { key: 'x', decision: { do: 'skip' } })).status).toBe(409);
    expect((await ines.ask('POST', `${own}/accounts/${account!.id}/refresh`)).status).toBe(422);
    expect((await ines.ask('GET', `${own}/items?watches=${watch}`)).body.items).toEqual([]);
    expect((await ines.ask('GET', `${own}/today`)).body).toMatchObject({
      held: [],
      went: [],
      appeared: [],
      outlets: [],
    });
    // And a workflow of hers that names the other brand's outlet and watch cannot go live with them.
    const stolen = await addWorkflow(
      house.services.pool,
      house.bakehouse,
      'Stolen',
      newVideos(watch, [await house.page()]),
      house.clock.now,
    );
    const refused = await ines.ask('POST', `${own}/workflows/${stolen}/live`, { revision: 1 });
    expect(refused.body.reasons).toEqual([
      'What it watched is gone.',
      'An outlet of this step is gone. Choose another.',
    ]);
  });
});

describe('a draft', () => {
  it('is not overwritten by an older one', async () => {
    const visitor = await signedIn();
    const at = `/brands/${house.lidos}/workflows`;
    const { id } = (await visitor.ask('POST', at, { name: 'Draft', definition: newVideos(1, []) })).body as unknown as {
      id: number;
    };
    const save = (name: string, revision: number) =>
      visitor.ask('PUT', `${at}/${id}/draft`, { name, definition: newVideos(1, []), revision });
    expect((await save('First', 1)).body).toEqual({ revision: 2 });
    const late = await save('Second', 1);
    expect([late.status, late.body.current]).toEqual([409, 2]);
    expect((await visitor.ask('GET', `${at}/${id}`)).body.name).toBe('First');
  });
  it('that is not one is refused with a reason', async () => {
    const visitor = await signedIn();
    const at = `/brands/${house.lidos}/workflows`;
    for (const definition of [
      {},
      { schema: 2, sources: [], steps: [] },
      { ...newVideos(1, []), steps: [{ id: 'a', verb: 'shout' }] },
      null,
      'x',
    ]) {
      const answer = await visitor.ask('POST', at, { name: 'Bad', definition });
      expect(answer.status).toBe(422);
      expect(String(answer.body.title).length).toBeGreaterThan(5);
    }
    const broken = await fetch(`${house.env.PLAYA_ORIGIN}/api${at}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie: visitor.cookie, 'x-csrf-token': visitor.csrf },
      body: '{"name":',
    });
    expect(broken.status).toBe(400);
    expect((await visitor.ask('POST', at, { name: 'x'.repeat(2_000_000), definition: {} })).status).toBe(413);
  });
});

describe('what the screens ask for', () => {
  // Earlier tests have moved the clock; Lagoon's goes as always.
  beforeAll(() => {
    house.clock.now = testNow();
  });
  it('Today shows what went out, what goes next and what needs somebody; a decision changes it', async () => {
    const visitor = await signedIn();
    const at = `/brands/${house.lidos}`;
    const watch = await house.watch();
    const page = await house.page('Old Quay pool');
    const workflow = await live(house, newVideos(watch, [page], `{$title} ${'x'.repeat(2000)}`), {
      last: 2,
      every: 30,
    });
    await house.settle();
    const today = async () => (await visitor.ask('GET', `${at}/today`)).body as unknown as Today;
    const first = await today();
    const held = first.held.find((row) => row.workflowId === workflow)!;
    expect(held).toMatchObject({ trouble: 'too-long', outlet: 'Old Quay pool', kind: 'page' });
    expect(first.coming.filter((row) => row.workflowId === workflow).map((row) => row.outlet)).toEqual([page]);
    expect(first.outlets.find((outlet) => outlet.id === page)).toMatchObject({ fed: true });

    const decide = (decision: object) =>
      visitor.ask('POST', `${at}/runs/${held.runId}/decide`, { key: held.key, decision });
    const still = await decide({ do: 'retry', text: 'y'.repeat(2001) });
    expect([still.status, still.body.title]).toEqual([409, '2001 characters, 1 more than Old Quay pool takes.']);
    expect((await decide({ do: 'dance' })).status).toBe(422);
    expect((await decide({ do: 'itWentOut', url: 'javascript:alert(1)' })).status).toBe(422);
    expect((await decide({ do: 'retry', text: 'Shorter.' })).status).toBe(204);
    await house.settle();
    const after = await today();
    expect(after.held.filter((row) => row.runId === held.runId)).toEqual([]);
    expect(after.went[0]).toMatchObject({ text: 'Shorter.', outlet: 'Old Quay pool', workflowId: workflow });

    const { runs } = (await visitor.ask('GET', `${at}/workflows/${workflow}/runs`)).body as unknown as {
      runs: { id: number; status: string; state?: unknown; trace: object }[];
    };
    expect(runs.find((run) => run.id === held.runId)).toMatchObject({
      status: 'done',
      trace: { post: { posts: [{ status: 'posted', text: 'Shorter.' }] } },
    });

    // What it says since somebody edited it is what the sheet shows.
    const posted = runs.find((run) => run.id === held.runId)!.trace as { post: { posts: { key: string }[] } };
    const edits = `${at}/posts/${posted.post.posts[0]!.key}/edits`;
    expect((await visitor.ask('POST', edits, { text: 'z'.repeat(2001) })).body.title).toMatch(/1 more than/);
    expect((await visitor.ask('POST', edits, { text: 'Put right.' })).status).toBe(204);
    const later = (await visitor.ask('GET', `${at}/workflows/${workflow}/runs`)).body as unknown as {
      runs: { id: number }[];
    };
    expect(later.runs.find((run) => run.id === held.runId)).toMatchObject({
      trace: { post: { posts: [{ status: 'posted', text: 'Put right.', edited: true }] } },
    });
    expect((await visitor.ask('GET', edits)).body).toMatchObject({ edits: [{ before: 'Shorter.', made: true }] });
    // What a run is made of inside stays inside.
    expect(runs.every((run) => !('state' in run) && !('uuid' in run))).toBe(true);
  });
  it('accounts show who uses them, and never a token', async () => {
    const visitor = await signedIn();
    const answer = await visitor.ask('GET', `/brands/${house.lidos}/accounts`);
    const { accounts } = answer.body as unknown as {
      accounts: { kind: string; workflows: object[]; outlets: object[] }[];
    };
    const pages = accounts.find((account) => account.kind === 'pages')!;
    expect(pages.workflows.length).toBeGreaterThan(0);
    expect(pages.outlets).toHaveLength(3);
    expect(JSON.stringify(answer.body)).not.toMatch(/sealed|access_token|refresh/);
  });
  it('a source is found, watched and read in three questions', async () => {
    const visitor = await signedIn();
    const at = `/brands/${house.bakehouse}`;
    const found = (await visitor.ask('POST', `${at}/sources/find`, { text: '@marrambakehouse' })).body as unknown as {
      found: { params: { url: string }; newest: object[] };
    };
    expect(found.found.newest).toHaveLength(3);
    const { id } = (await visitor.ask('POST', `${at}/sources/watch`, { url: found.found.params.url })).body;
    expect((await visitor.ask('GET', `${at}/items?watches=${id}`)).body.items).toHaveLength(6);
    expect((await visitor.ask('GET', `${at}/items?watches=1;drop`)).status).toBe(422);
    const nothing = await visitor.ask('POST', `${at}/sources/watch`, { url: `${house.lagoon}/pages/p/old-quay` });
    expect([nothing.status, nothing.body.title]).toEqual([
      422,
      'It cannot be watched: There is a page, but it names no feed.',
    ]);
  });
  it('what is not there is said not to be', async () => {
    const visitor = await signedIn();
    expect((await visitor.ask('GET', '/nothing')).status).toBe(404);
    expect((await visitor.ask('GET', `/brands/${house.lidos}/workflows/abc`)).status).toBe(404);
    expect((await visitor.ask('GET', `/brands/${house.lidos}/workflows/99999`)).body.title).toBe(
      'There is no such workflow.',
    );
    const { workflows } = (await visitor.ask('GET', `/brands/${house.lidos}/workflows`)).body as unknown as {
      workflows: { id: number; status: string }[];
    };
    const been = workflows.find((workflow) => workflow.status === 'live')!;
    expect((await visitor.ask('DELETE', `/brands/${house.lidos}/workflows/${been.id}`)).status).toBe(409);
  });
});

interface Today {
  held: { runId: number; workflowId: number; key: string; trouble: string }[];
  coming: { outlet: number; workflowId: number }[];
  outlets: { id: number; fed: boolean }[];
  went: { text: string; outlet: string; workflowId: number }[];
}

it('open screens hear what changed in their brand, and nothing of others', async () => {
  const visitor = await signedIn();
  const listen = async (brand: number) => {
    const abort = new AbortController();
    const answer = await fetch(`${house.env.PLAYA_ORIGIN}/api/brands/${brand}/events`, {
      headers: { cookie: visitor.cookie },
      signal: abort.signal,
    });
    let heard = '';
    let ended = false;
    void (async () => {
      try {
        for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>)
          heard += Buffer.from(chunk).toString();
        ended = true;
      } catch {
        // Closed by the test.
      }
    })();
    return { heard: () => heard, ended: () => ended, stop: () => abort.abort() };
  };
  const lidos = await listen(house.lidos);
  const bakehouse = await listen(house.bakehouse);
  await expect.poll(lidos.heard).toContain('hello');
  await expect.poll(bakehouse.heard).toContain('hello');
  await visitor.ask('POST', `/brands/${house.lidos}/workflows`, { name: 'Told', definition: newVideos(1, []) });
  await expect.poll(lidos.heard, { timeout: 5000 }).toContain('"topic":"workflows"');
  expect(bakehouse.heard()).not.toContain('"topic"');
  lidos.stop();
  bakehouse.stop();

  // However many changes nobody heard of, the next one is told in the next round.
  await new Promise((done) => setTimeout(done, 900));
  for (let n = 0; n < 10; n++)
    await change(house.services.pool, 'INSERT INTO changes (brand_id, topic, ref, at) VALUES ?', [
      Array.from({ length: 1200 }, () => [house.bakehouse, 'items', 1, new Date(house.clock.now)]),
    ]);
  const later = await listen(house.lidos);
  await expect.poll(later.heard).toContain('hello');
  await visitor.ask('POST', `/brands/${house.lidos}/workflows`, { name: 'Told at once', definition: newVideos(1, []) });
  await expect.poll(later.heard, { timeout: 2500 }).toContain('"topic":"workflows"');
  // The stream ends with the session.
  expect(later.ended()).toBe(false);
  await visitor.ask('POST', '/sign-out');
  await expect.poll(later.ended, { timeout: 2000 }).toBe(true);
});

it('health is that of the database', async () => {
  expect((await stranger().ask('GET', '/health')).status).toBe(200);
  const away = {
    query: () => Promise.reject(new Error('The database is away.')),
  } as unknown as House['services']['pool'];
  await expect(askDatabase({ ...house.services, pool: away })).rejects.toMatchObject({ status: 503 });
  const silent = { query: () => new Promise(() => undefined) } as unknown as House['services']['pool'];
  await expect(askDatabase({ ...house.services, pool: silent })).rejects.toMatchObject({ status: 503 });
});

it('a request that is nested without end is refused, and the next one is answered', async () => {
  const visitor = await signedIn();
  const path = `/brands/${house.lidos}/workflows`;
  for (const depth of [100, 20_000]) {
    const body = new TextEncoder().encode(`${'['.repeat(depth)}${']'.repeat(depth)}`);
    const answer = await visitor.ask('POST', path, body, { 'content-type': 'application/json' });
    expect(answer.status).toBe(422);
  }
  expect((await visitor.ask('GET', '/me')).status).toBe(200);
});

it('after a consent one comes back to Playa, and reads only what Playa said', async () => {
  const visitor = await signedIn();
  for (const backTo of [
    '//elsewhere.example',
    '/\\elsewhere.example',
    '/\t/elsewhere.example',
    'https://elsewhere.example',
  ])
    expect(
      (await visitor.ask('POST', `/brands/${house.lidos}/accounts/connect`, { kind: 'pages', backTo })).status,
    ).toBe(422);
  expect(
    (await visitor.ask('GET', `/oauth/trouble/${Buffer.from('Pay here').toString('base64url')}.forged`)).status,
  ).toBe(404);
  const back = await fetch(`${house.env.PLAYA_ORIGIN}/api/oauth/callback?error=access_denied&state=none`, {
    headers: { cookie: visitor.cookie },
    redirect: 'manual',
  });
  const token = new URL(back.headers.get('location')!, house.env.PLAYA_ORIGIN).searchParams.get('trouble')!;
  expect((await visitor.ask('GET', `/oauth/trouble/${token}`)).body.says).toMatch(/Begin again/);
});

describe('web hooks, schedules, secrets and notices', () => {
  const at = () => `/brands/${house.lidos}`;
  const told = async (visitor: Visitor, name = 'Closures') => {
    const { id } = (await visitor.ask('POST', `${at()}/sources/hook`, { name })).body;
    const hook = (await visitor.ask('GET', `${at()}/sources/${id}/hook`)).body as unknown as {
      address: string;
      signed: boolean;
    };
    return { id, ...hook };
  };
  it('a hook is made, called from outside without signing in, and shows what came', async () => {
    const visitor = await signedIn();
    const { id, address, signed } = await told(visitor);
    expect(signed).toBe(false);
    const answer = await fetch(address, {
      method: 'POST',
      body: '{"number":7}',
      headers: { 'content-type': 'application/json' },
    });
    expect([answer.status, await answer.json()]).toEqual([202, { received: true, repeated: false }]);
    await house.settle();
    const shown = (await visitor.ask('GET', `${at()}/sources/${id}/hook`)).body;
    expect(shown).toMatchObject({
      schema: { properties: { number: { type: 'integer' } } },
      deliveries: [{ test: false, trouble: null, body: '{"number":7}' }],
    });
    expect((await visitor.ask('GET', `${at()}/items?watches=${id}`)).body.items).toHaveLength(1);
    // Reading an address only tells that there is something to call.
    expect((await fetch(address)).status).not.toBe(202);
  });
  it('its address can be changed: the old one works for a day more, and can be had back', async () => {
    const visitor = await signedIn();
    const before = await told(visitor);
    await visitor.ask('POST', `${at()}/sources/${before.id}/hook`, { newAddress: true });
    const after = (await visitor.ask('GET', `${at()}/sources/${before.id}/hook`)).body as unknown as {
      address: string;
      oldUntil: number;
    };
    expect(after.address).not.toBe(before.address);
    expect(after.oldUntil).toBe(house.clock.now + 24 * 3_600_000);
    const post = async (address: string) => (await fetch(address, { method: 'POST', body: '{}' })).status;
    expect([await post(before.address), await post(after.address)]).toEqual([202, 202]);
    await visitor.ask('POST', `${at()}/sources/${before.id}/hook`, { oldAddress: true });
    const back = (await visitor.ask('GET', `${at()}/sources/${before.id}/hook`)).body as unknown as { address: string };
    expect(back.address).toBe(before.address);
    const { now } = house.clock;
    house.clock.now += 24 * 3_600_000 + 1;
    expect([await post(before.address), await post(after.address)]).toEqual([202, 404]);
    expect((await visitor.ask('POST', `${at()}/sources/${before.id}/hook`, { oldAddress: true })).status).toBe(409);
    house.clock.now = now;
  });
  it('the key to sign with is shown once, and asked for from then on', async () => {
    const visitor = await signedIn();
    const { id, address } = await told(visitor);
    const { secret } = (await visitor.ask('POST', `${at()}/sources/${id}/hook`, { signed: true })).body;
    expect(secret).toMatch(/^whsec_/);
    expect(JSON.stringify((await visitor.ask('GET', `${at()}/sources/${id}/hook`)).body)).not.toContain(String(secret));
    const unsigned = await fetch(address, { method: 'POST', body: '{}' });
    expect([unsigned.status, ((await unsigned.json()) as { title: string }).title]).toEqual([
      401,
      'The call is not signed: webhook-id, webhook-timestamp, webhook-signature missing.',
    ]);
    await visitor.ask('POST', `${at()}/sources/${id}/hook`, { signed: false });
    expect((await fetch(address, { method: 'POST', body: '{}' })).status).toBe(202);
  });
  it('a test goes through the same door and is marked as one; a field is renamed', async () => {
    const visitor = await signedIn();
    const { id } = await told(visitor);
    expect((await visitor.ask('POST', `${at()}/sources/${id}/hook/test`, { body: { who: 'Mo' } })).status).toBe(204);
    expect((await visitor.ask('POST', `${at()}/sources/${id}/hook/test`, { body: 'Mo' })).status).toBe(422);
    await house.settle();
    expect((await visitor.ask('GET', `${at()}/sources/${id}/hook`)).body).toMatchObject({
      deliveries: [{ test: true }],
    });
    expect((await visitor.ask('POST', `${at()}/sources/${id}/rename`, { from: 'who', to: 'swimmer' })).body).toEqual({
      workflows: 0,
      items: 1,
    });
    expect(
      (await visitor.ask('POST', `${at()}/sources/${id}/rename`, { from: 'swimmer', to: 'no spaces' })).status,
    ).toBe(422);
    expect((await visitor.ask('GET', `${at()}/items?watches=${id}`)).body.items).toMatchObject([
      { fields: { swimmer: 'Mo' } },
    ]);
  });
  it('belong to their brand', async () => {
    const { id } = await told(await signedIn());
    const other = await signedIn('ines@marram.example');
    const elsewhere = `/brands/${house.bakehouse}`;
    expect((await other.ask('GET', `${elsewhere}/sources/${id}/hook`)).status).toBe(404);
    expect((await other.ask('POST', `${elsewhere}/sources/${id}/hook`, { newAddress: true })).status).toBe(404);
    expect((await other.ask('POST', `${elsewhere}/sources/${id}/hook/test`, { body: {} })).status).toBe(404);
    expect((await other.ask('POST', `${elsewhere}/sources/${id}/rename`, { from: 'a', to: 'b' })).status).toBe(409);
    expect((await other.ask('GET', `${at()}/sources/${id}/hook`)).status).toBe(404);
  });
  it('a schedule shows its next times before it is made, and is refused with a reason', async () => {
    const visitor = await signedIn();
    const schedule = { rule: 'FREQ=WEEKLY;BYDAY=MO', start: '2026-01-05T09:00' };
    const preview = (await visitor.ask('POST', `${at()}/sources/schedule/preview`, schedule)).body as unknown as {
      next: number[];
      says: string;
    };
    expect(preview.says).toBe('every week on Monday');
    expect(preview.next).toHaveLength(5);
    const refused = await visitor.ask('POST', `${at()}/sources/schedule/preview`, { ...schedule, rule: 'sometimes' });
    expect([refused.status, refused.body.title]).toEqual([422, 'This is not a recurrence rule.']);
    const made = await visitor.ask('POST', `${at()}/sources/schedule`, { name: 'Mondays', ...schedule });
    expect(made.status).toBe(201);
    // The same schedule is one source, however often it is asked for.
    expect((await visitor.ask('POST', `${at()}/sources/schedule`, { name: 'Again', ...schedule })).body.id).toBe(
      made.body.id,
    );
    expect(
      ((await visitor.ask('GET', `${at()}/items?watches=${made.body.id}`)).body.items as object[]).length,
    ).toBeGreaterThan(5);
  });
  it('a secret is kept, named, and never shown', async () => {
    const visitor = await signedIn();
    expect((await visitor.ask('PUT', `${at()}/secrets/directory`, { value: 'Bearer tide-table' })).status).toBe(204);
    const listed = await visitor.ask('GET', `${at()}/secrets`);
    expect(listed.body.secrets).toMatchObject([{ name: 'directory' }]);
    expect(JSON.stringify(listed.body)).not.toContain('tide-table');
    expect((await visitor.ask('PUT', `${at()}/secrets/empty`, { value: '' })).status).toBe(422);
    expect(
      (await (await signedIn('ines@marram.example')).ask('GET', `/brands/${house.bakehouse}/secrets`)).body.secrets,
    ).toEqual([]);
    expect((await visitor.ask('DELETE', `${at()}/secrets/directory`)).status).toBe(204);
    expect((await visitor.ask('DELETE', `${at()}/secrets/directory`)).status).toBe(404);
  });
  it('a call is tried once for its answer, through the guard', async () => {
    const visitor = await signedIn();
    const call = { method: 'GET', url: 'http://127.0.0.1:1/', headers: [], body: null, keyed: false };
    const refused = await visitor.ask('POST', `${at()}/calls/try`, call);
    expect([refused.status, refused.body.title]).toEqual([
      422,
      '127.0.0.1 is an address inside a private network. Playa fetches only from the public internet.',
    ]);
    const answered = await visitor.ask('POST', `${at()}/calls/try`, { ...call, url: `${house.lagoon}/nothing-here` });
    expect([answered.status, answered.body.status]).toEqual([200, 404]);
    const noSecret = await visitor.ask('POST', `${at()}/calls/try`, {
      ...call,
      url: `${house.lagoon}/`,
      headers: [{ name: 'A', secret: 'gone' }],
    });
    expect(noSecret.body.title).toBe('The vault has no secret called “gone”.');
  });
  it('a notice is put away by whom it is for', async () => {
    const visitor = await signedIn();
    const { addNotices } = await import('../store/notices.ts');
    await addNotices(
      house.services.pool,
      { brandId: house.lidos, to: [], onceKey: 'n1', workflowId: null, runId: null, text: 'The gate is open.' },
      house.clock.now,
    );
    await addNotices(
      house.services.pool,
      { brandId: house.lidos, to: [], onceKey: 'n1', workflowId: null, runId: null, text: 'The gate is open.' },
      house.clock.now,
    );
    const { notices } = (await visitor.ask('GET', `${at()}/notices`)).body as unknown as {
      notices: { id: number; text: string }[];
    };
    expect(notices.map((notice) => notice.text)).toEqual(['The gate is open.']);
    expect((await visitor.ask('POST', `${at()}/notices/${notices[0]!.id}/away`)).status).toBe(204);
    expect((await visitor.ask('POST', `${at()}/notices/${notices[0]!.id}/away`)).status).toBe(404);
    expect((await visitor.ask('GET', `${at()}/notices`)).body.notices).toEqual([]);
  });
  it('what could not be taken is put away once, and the record says of which source it was', async () => {
    const visitor = await signedIn();
    const { setAside, asideOf } = await import('../store/set-aside.ts');
    const { keepWatch } = await import('../store/watches.ts');
    const { pool } = house.services;
    const watch = await keepWatch(pool, {
      ...{ brandId: house.lidos, sourceKey: 'feed:tide', kind: 'feed', params: {}, name: 'Tide tables' },
      ...{ things: 'posts', everySeconds: 3600 },
    } as const);
    const thing = { brandId: house.lidos, kind: 'item', once: 'x', what: 'Odd', why: 'It has no name.' } as const;
    await setAside(pool, { ...thing, watchId: watch }, house.clock.now);
    const [aside] = await asideOf(pool, house.lidos, 5);
    expect((await visitor.ask('POST', `${at()}/aside/${aside!.id}/away`)).status).toBe(204);
    expect((await visitor.ask('POST', `${at()}/aside/${aside!.id}/away`)).status).toBe(404);
    const { entries } = (await visitor.ask('GET', `${at()}/audit?about=source`)).body as unknown as {
      entries: object[];
    };
    expect(entries[0]).toMatchObject({
      ...{ did: 'put away', about: 'source', aboutId: watch, name: 'Tide tables', was: 'It has no name.' },
    });
  });
  it('a run is ended, and what running it again would send is told, by those of its brand only', async () => {
    const visitor = await signedIn();
    const { toldWorkflow } = await import('../testing/told.ts');
    const workflow = await toldWorkflow(house, [
      { id: 'tell', verb: 'notify', to: [], text: 'First' },
      { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 600 } },
    ]);
    await workflow.tell({ n: 1 });
    const { runs } = (await visitor.ask('GET', `${at()}/workflows/${workflow.id}/runs`)).body as unknown as {
      runs: { id: number; status: string; at: string }[];
    };
    expect(runs).toMatchObject([{ status: 'waiting', at: 'wait' }]);
    const run = `/runs/${runs[0]!.id}`;
    expect((await visitor.ask('GET', `${at()}/workflows/${workflow.id}/open`)).body).toMatchObject({
      waiting: 1,
      held: 0,
    });
    expect((await visitor.ask('GET', `${at()}${run}/rerun/tell`)).body.sent).toMatchObject([
      { step: 'tell', action: 'notify' },
    ]);
    expect((await visitor.ask('GET', `${at()}${run}/rerun/nobody`)).status).toBe(409);
    const other = await signedIn('ines@marram.example');
    expect((await other.ask('POST', `/brands/${house.bakehouse}${run}/cancel`)).status).toBe(409);
    expect((await visitor.ask('POST', `${at()}${run}/cancel`)).status).toBe(204);
    expect((await visitor.ask('POST', `${at()}${run}/cancel`)).status).toBe(409);
    expect((await visitor.ask('POST', `${at()}${run}/rerun`, { from: 'wait' })).status).toBe(204);
    expect((await visitor.ask('POST', `${at()}/workflows/${workflow.id}/move`)).body).toEqual({ moved: 0, kept: 0 });
    expect((await visitor.ask('DELETE', `${at()}/workflows/${workflow.id}/backfill`)).body).toEqual({ dropped: 0 });
  });
});

const at = () => `/brands/${house.lidos}`;

describe('a paused workflow', () => {
  it('says what it missed, and takes what is chosen of it; what nobody took can be taken', async () => {
    const visitor = await signedIn();
    const watch = await house.watch();
    const id = await live(house, newVideos(watch, [await house.page()], 'HTTP: {$title}'));
    const workflow = `${at()}/workflows/${id}`;
    expect((await visitor.ask('POST', `${workflow}/pause`)).status).toBe(204);
    await uploadNow(house, watch, 'Missed over HTTP');
    const missed = (await visitor.ask('GET', `${workflow}/missed`)).body.missed as { id: number; title: string }[];
    expect(missed.map(({ title }) => title)).toEqual(['Missed over HTTP']);
    const item = { item: missed[0]!.id };
    expect((await visitor.ask('POST', `${workflow}/take`, item)).status).toBe(409);
    expect((await visitor.ask('POST', `${workflow}/resume`, { take: 'some' })).status).toBe(422);
    expect((await visitor.ask('POST', `${workflow}/resume`, { take: 'none' })).body).toEqual({ taken: 0 });
    expect((await visitor.ask('POST', `${workflow}/resume`, {})).status).toBe(409);
    const { appeared } = (await visitor.ask('GET', `${at()}/today`)).body as unknown as {
      appeared: { id: number; takers: { id: number }[] }[];
    };
    const seen = appeared.find((each) => each.id === item.item)!;
    expect(seen.takers.map((each) => each.id)).toContain(id);
    expect((await visitor.ask('POST', `${workflow}/take`, item)).body).toEqual({ taken: 1 });
    expect((await visitor.ask('POST', `${workflow}/take`, item)).status).toBe(409);
    await house.settle();
    expect((await house.posts()).map((post) => post.text)).toContain('HTTP: Missed over HTTP');
    // Of another brand there is nothing to take, and nothing to be told.
    const ines = await signedIn('ines@marram.example');
    for (const [method, path, body] of [
      ['GET', 'missed', undefined],
      ['GET', 'busy', undefined],
      ['POST', 'take', item],
    ] as const)
      expect((await ines.ask(method, `/brands/${house.bakehouse}/workflows/${id}/${path}`, body)).status).toBe(404);
    await change(house.services.pool, "UPDATE workflows SET status = 'paused' WHERE id = ?", [id]);
  });
  it('and others that do the same are named in the list and where it is edited', async () => {
    const visitor = await signedIn();
    const watch = await house.watch();
    const page = await house.page();
    const ids = [
      await live(house, newVideos(watch, [page], 'One: {$title}')),
      await live(house, newVideos(watch, [page], 'Other: {$title}')),
    ];
    const { workflows } = (await visitor.ask('GET', `${at()}/workflows`)).body as unknown as {
      workflows: { id: number; problems: { says: string }[] }[];
    };
    const says = workflows.find((each) => each.id === ids[0])!.problems.map((problem) => problem.says);
    expect(says).toContainEqual(expect.stringContaining('posts from Tern Bay channel to Tern Bay Lidos too'));
    const { things } = (await visitor.ask('GET', `${at()}/world`)).body as unknown as {
      things: { of: string; workflow?: { id: number } }[];
    };
    expect(things.map(({ workflow }) => workflow?.id)).toContain(ids[1]);
    for (const id of ids)
      await change(house.services.pool, "UPDATE workflows SET status = 'paused' WHERE id = ?", [id]);
  });
});

describe('snippets', () => {
  it('are kept, used, renamed everywhere and refused to go while something live says them', async () => {
    const visitor = await signedIn();
    expect((await visitor.ask('PUT', `${at()}/snippets/two%20words`, { text: 'x', revision: null })).status).toBe(422);
    expect((await visitor.ask('PUT', `${at()}/snippets/sign-off`, { text: '  ', revision: null })).status).toBe(422);
    expect((await visitor.ask('PUT', `${at()}/snippets/sign-off`, { text: 'Your crew', revision: null })).status).toBe(
      204,
    );
    const id = await live(house, newVideos(await house.watch(), [await house.page()], '{$title}. {$snippet.sign-off}'));
    expect((await visitor.ask('GET', `${at()}/snippets`)).body.snippets).toMatchObject([
      { name: 'sign-off', text: 'Your crew', uses: [{ workflowId: id, live: true }] },
    ]);
    // Fields in it would go out as they stand: that is for answers at the desk.
    const tokens = { text: 'Yours, {$person.name}', revision: null };
    const kept = await visitor.ask('PUT', `${at()}/snippets/sign-off`, tokens);
    expect(kept.status).toBe(409);
    expect(kept.body.title).toMatch(/is live and uses it: the fields in it would go out as they stand/);
    expect((await visitor.ask('PUT', `${at()}/snippets/answer`, tokens)).status).toBe(204);
    expect((await visitor.ask('DELETE', `${at()}/snippets/answer`)).status).toBe(204);
    const changes = await visitor.ask('POST', `${at()}/snippets/sign-off/changes`, { text: 'The crew' });
    expect((changes.body.changes as { after: string }[])[0]!.after).toMatch(/The crew$/);
    const refused = await visitor.ask('DELETE', `${at()}/snippets/sign-off`);
    expect(refused.status).toBe(409);
    expect(refused.body.title).toContain('is live and uses it');
    expect(
      (
        await visitor.ask('PUT', `${at()}/snippets/sign-off`, {
          text: 'The crew',
          rename: 'goodbye',
          revision: revisionOf('Your crew'),
        })
      ).status,
    ).toBe(204);
    const opened = await visitor.ask('GET', `${at()}/workflows/${id}`);
    expect(JSON.stringify(opened.body.live)).toContain('{$snippet.goodbye}');
    const { things } = (await visitor.ask('GET', `${at()}/world`)).body as unknown as { things: { of: string }[] };
    expect(things.filter((thing) => thing.of === 'snippet')).toEqual([
      { of: 'snippet', snippet: { name: 'goodbye', text: 'The crew' } },
    ]);
    // Another brand's people neither see nor change it.
    const ines = await signedIn('ines@marram.example');
    expect((await ines.ask('GET', `${at()}/snippets`)).status).toBe(404);
    await change(house.services.pool, "UPDATE workflows SET status = 'paused' WHERE id = ?", [id]);
  });
});

describe('links and pictures', () => {
  it('show what a page says of itself, and nothing of what cannot be had', async () => {
    const visitor = await signedIn();
    const film = await house.upload({ title: 'Tide gate & crane' });
    const preview = (url: string) => visitor.ask('GET', `${at()}/link-preview?url=${encodeURIComponent(url)}`);
    expect((await preview(`${house.lagoon}/video/v/${film}`)).body.preview).toMatchObject({
      title: 'Tide gate & crane',
      // Only its oEmbed says whose it is.
      author: 'Tern Bay channel',
    });
    expect((await preview(`${house.lagoon}/nothing-here`)).body.preview).toBeNull();
    // What is private to this machine is not asked.
    expect((await preview('http://127.0.0.1:1/')).body.preview).toBeNull();
    expect((await preview('file:///etc/passwd')).body.preview).toBeNull();
    expect((await visitor.ask('GET', `${at()}/link-preview?url=nothing`)).status).toBe(422);
  });
  it('answer only for addresses that Playa signed itself', async () => {
    const order = { url: `${house.lagoon}/video/pictures/film-1.jpg`, by: 'crop' as const, least: 1, most: 1 };
    const address = orderAddress(house.services, order);
    const answer = await fetch(address);
    expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'image/jpeg']);
    expect((await answer.arrayBuffer()).byteLength).toBeGreaterThan(1000);
    expect((await fetch(address.replace(/\/([\w-]+)\.jpg$/, '/$1x.jpg'))).status).toBe(404);
    const other = Buffer.from(JSON.stringify(['http://127.0.0.1:1/', 'crop', 1, 1])).toString('base64url');
    expect((await fetch(address.replace(/pictures\/[\w-]+/, `pictures/${other}`))).status).toBe(404);
    expect((await fetch(orderAddress(house.services, { ...order, url: `${house.lagoon}/none.jpg` }))).status).toBe(502);
  });
});
