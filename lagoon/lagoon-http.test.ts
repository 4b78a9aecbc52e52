import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { request } from 'undici';
import { challengeFor } from './base/oauth.ts';
import { runLagoon, type RunningLagoon } from './testing/run-lagoon.ts';

// Lagoon as applications meet it: over HTTP, in its own process.
const SECRET = 'a-secret-for-this-test';
const REDIRECT = 'http://127.0.0.1:9/callback';
let lagoon: RunningLagoon;
let origin: string;
beforeAll(async () => {
  lagoon = await runLagoon({
    LAGOON_CLIENTS: JSON.stringify([{ id: 'app', name: 'An app', secret: SECRET, redirectUris: [REDIRECT] }]),
    LAGOON_WRITES_PER_MINUTE: '40',
  });
  origin = lagoon.origin;
});
afterAll(() => lagoon?.close());

const form = (values: Record<string, string>) => ({
  method: 'POST',
  redirect: 'manual' as const,
  body: new URLSearchParams(values),
});
const VERIFIER = 'dBjftJeZ4CVP-mB92K27uhbUJU1p1r_wW1gFWFOEjXk';
const asked = (changes: Record<string, string> = {}) => ({
  response_type: 'code',
  client_id: 'app',
  redirect_uri: REDIRECT,
  scope: 'pages.list pages.post',
  state: 'xyz',
  code_challenge: challengeFor(VERIFIER),
  code_challenge_method: 'S256',
  ...changes,
});
async function cookie(person = '1') {
  return (await fetch(`${origin}/sign-in`, form({ person, next: '/' }))).headers.getSetCookie()[0]!.split(';')[0]!;
}
async function consent(changes: Record<string, string> = {}, answer = 'yes') {
  const reply = await fetch(`${origin}/pages/oauth/authorize`, {
    ...form({ ...asked(changes), answer }),
    headers: { cookie: await cookie() },
  });
  return {
    status: reply.status,
    back: reply.headers.get('location') === null ? null : new URL(reply.headers.get('location')!),
  };
}
async function token(values: Record<string, string>, secret = SECRET) {
  const reply = await fetch(`${origin}/pages/oauth/token`, {
    ...form(values),
    headers: { authorization: `Basic ${Buffer.from(`app:${secret}`).toString('base64')}` },
  });
  return {
    status: reply.status,
    body: (await reply.json()) as { access_token: string; refresh_token: string; error?: string; expires_in: number },
  };
}
async function signIn() {
  const { back } = await consent();
  return (
    await token({
      grant_type: 'authorization_code',
      code: back!.searchParams.get('code')!,
      redirect_uri: REDIRECT,
      code_verifier: VERIFIER,
    })
  ).body;
}
async function api(access: string, method: string, path: string, body?: object, headers: Record<string, string> = {}) {
  const reply = await fetch(`${origin}/pages/api${path}`, {
    method,
    headers: { authorization: `Bearer ${access}`, 'content-type': 'application/json', ...headers },
    body: body ? JSON.stringify(body) : null,
  });
  const text = await reply.text();
  return {
    status: reply.status,
    retryAfter: reply.headers.get('retry-after'),
    body: (text ? JSON.parse(text) : {}) as {
      id: string;
      message: string;
      data: { id: string; message: string }[];
      error: { code: string };
    },
  };
}

describe('sign-in by OAuth 2.0', () => {
  it('goes from consent to tokens, with state kept (RFC 6749 section 4.1)', async () => {
    const { back } = await consent();
    expect(back!.origin + back!.pathname).toBe(REDIRECT);
    expect(back!.searchParams.get('state')).toBe('xyz');
    const { status, body } = await token({
      grant_type: 'authorization_code',
      code: back!.searchParams.get('code')!,
      redirect_uri: REDIRECT,
      code_verifier: VERIFIER,
    });
    expect(status).toBe(200);
    expect(body).toMatchObject({ token_type: 'Bearer', expires_in: 3600, scope: 'pages.list pages.post' });
    expect((await api(body.access_token, 'GET', '/me')).status).toBe(200);
  });
  it('sends nobody to an address that is not registered to the letter (RFC 9700 section 2.1)', async () => {
    for (const redirect_uri of [`${REDIRECT}/`, `${REDIRECT}?x=1`, 'https://evil.example/']) {
      expect(await consent({ redirect_uri })).toEqual({ status: 400, back: null });
    }
  });
  it('requires PKCE with S256, and the right verifier (RFC 7636)', async () => {
    expect((await consent({ code_challenge_method: 'plain' })).back!.searchParams.get('error')).toBe('invalid_request');
    expect((await consent({ code_challenge: '' })).back!.searchParams.get('error')).toBe('invalid_request');
    const { back } = await consent();
    const wrong = await token({
      grant_type: 'authorization_code',
      code: back!.searchParams.get('code')!,
      redirect_uri: REDIRECT,
      code_verifier: 'x'.repeat(43),
    });
    expect([wrong.status, wrong.body.error]).toEqual([400, 'invalid_grant']);
  });
  it('tells when the person refuses, and knows its clients', async () => {
    expect((await consent({}, 'no')).back!.searchParams.get('error')).toBe('access_denied');
    expect((await consent({ scope: 'everything' })).back!.searchParams.get('error')).toBe('invalid_scope');
    expect((await token({ grant_type: 'refresh_token', refresh_token: 'x' }, 'wrong')).status).toBe(401);
  });
  it('takes back what a code gave when the code is used again (RFC 6749 section 4.1.2)', async () => {
    const { back } = await consent();
    const values = {
      grant_type: 'authorization_code',
      code: back!.searchParams.get('code')!,
      redirect_uri: REDIRECT,
      code_verifier: VERIFIER,
    };
    const { body } = await token(values);
    expect((await token(values)).status).toBe(400);
    expect((await api(body.access_token, 'GET', '/me')).status).toBe(401);
  });
  it('rotates refresh tokens, and ends the grant when one is used twice (RFC 9700 section 4.14)', async () => {
    const first = await signIn();
    const second = (await token({ grant_type: 'refresh_token', refresh_token: first.refresh_token })).body;
    expect(second.refresh_token).not.toBe(first.refresh_token);
    expect((await token({ grant_type: 'refresh_token', refresh_token: first.refresh_token })).status).toBe(400);
    expect((await api(second.access_token, 'GET', '/me')).status).toBe(401);
  });
  it('revokes (RFC 7009)', async () => {
    const { access_token, refresh_token } = await signIn();
    const revoke = {
      ...form({ token: refresh_token }),
      headers: { authorization: `Basic ${Buffer.from(`app:${SECRET}`).toString('base64')}` },
    };
    expect((await fetch(`${origin}/pages/oauth/revoke`, revoke)).status).toBe(200);
    expect((await api(access_token, 'GET', '/me')).status).toBe(401);
  });
});

describe('posts on pages', () => {
  it('are made once per key, edited, and deleted', async () => {
    const { access_token } = await signIn();
    const post = (message: string, key: string) =>
      api(access_token, 'POST', '/pages/101/posts', { message, link: null }, { 'idempotency-key': key });
    const first = await post('Hello', 'k1');
    const again = await post('Hello', 'k1');
    expect([first.status, again.status, again.body.id]).toEqual([201, 200, first.body.id]);
    expect((await post('Other words', 'k1')).body.error.code).toBe('key_reused');
    const both = await Promise.all([post('Twice at once', 'k2'), post('Twice at once', 'k2')]);
    expect(both[0]!.body.id).toBe(both[1]!.body.id);
    expect((await api(access_token, 'PATCH', `/posts/${first.body.id}`, { message: 'Hello again' })).body.message).toBe(
      'Hello again',
    );
    expect(await (await fetch(`${origin}/pages/posts/${first.body.id}`)).text()).toContain('edited');
    expect((await api(access_token, 'DELETE', `/posts/${first.body.id}`)).status).toBe(204);
    expect((await api(access_token, 'GET', '/pages/101/posts')).body.data.map((each) => each.message)).toEqual([
      'Twice at once',
    ]);
    expect((await post('Hello', 'k1')).status).toBe(410);
  });
  it('are refused when they are empty, too long, or on somebody else’s page', async () => {
    const { access_token } = await signIn();
    const post = async (page: number, message: unknown, link?: unknown) =>
      (await api(access_token, 'POST', `/pages/${page}/posts`, { message, link } as object)).status;
    expect([
      await post(101, ' '),
      await post(101, 'x'.repeat(2001)),
      await post(101, 'ok', 'javascript:alert(1)'),
      await post(104, 'Not mine'),
    ]).toEqual([422, 422, 422, 404]);
  });
  it('are slowed down with 429 and Retry-After', async () => {
    const { access_token } = await signIn();
    const answers = [];
    for (let n = 0; n < 14; n++)
      answers.push(await api(access_token, 'POST', '/pages/102/posts', { message: `Post ${n}` }));
    const limited = answers.filter((answer) => answer.status === 429);
    expect(limited.length).toBeGreaterThan(0);
    expect(Number(limited[0]!.retryAfter)).toBeGreaterThan(0);
  });
});

it('the feed shows the newest fifteen and answers conditional requests (RFC 9110 section 13)', async () => {
  const feed = `${origin}/video/feeds/ch_7tQm2xVb9Lk.atom`;
  const first = await fetch(feed);
  expect(((await first.text()).match(/<entry>/g) ?? []).length).toBe(15);
  // The browser's fetch would add a Cache-Control of its own to these.
  const ask = async (headers: Record<string, string>) => (await request(feed, { headers })).statusCode;
  expect(await ask({ 'if-none-match': first.headers.get('etag')! })).toBe(304);
  expect(await ask({ 'if-modified-since': first.headers.get('last-modified')! })).toBe(304);
  expect(await ask({ 'if-none-match': '"other"' })).toBe(200);
});
