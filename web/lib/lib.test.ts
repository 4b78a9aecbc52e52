import { afterEach, describe, expect, it, vi } from 'vitest';
import { addressOf, call, connectApi, Refused } from './api.ts';
import { stepId } from './make-workflow.ts';
import { needOne } from './words.ts';
import { ago, clockTime, dayAndTime, shortMoment, zoneNote } from './times.ts';

describe('times', () => {
  const now = Date.UTC(2026, 10, 23, 12, 0);
  it('are those of the brand’s zone, through daylight saving', () => {
    expect(clockTime(Date.UTC(2026, 6, 1, 12, 0), 'Europe/Lisbon')).toBe('13:00');
    expect(clockTime(Date.UTC(2026, 11, 1, 12, 0), 'Europe/Lisbon')).toBe('12:00');
    expect(clockTime(now, 'Asia/Kathmandu')).toBe('17:45');
  });
  it('say the day when it is another, and the year when it is another', () => {
    expect(shortMoment(now - 3_600_000, 'UTC', now)).toBe('11:00');
    expect(shortMoment(now - 2 * 86_400_000, 'UTC', now)).toBe('Sat 12:00');
    expect(shortMoment(now - 20 * 86_400_000, 'UTC', now)).toBe('3 Nov 12:00');
    expect(dayAndTime(now, 'UTC', now)).toBe('Mon 23 Nov, 12:00');
    expect(dayAndTime(Date.UTC(2025, 0, 2, 3, 4), 'UTC', now)).toBe('2 Jan 2025, 03:04');
  });
  it('say how long ago', () => {
    expect([
      ago(now, now),
      ago(now - 240_000, now),
      ago(now - 7_200_000, now),
      ago(now - 3 * 86_400_000, now),
      ago(now + 5000, now),
    ]).toEqual(['just now', '4 min ago', '2 h ago', '3 d ago', 'just now']);
  });
  it('name the zone only when it differs from the reader’s', () => {
    expect(zoneNote(Intl.DateTimeFormat().resolvedOptions().timeZone, now)).toBe('');
    expect(zoneNote('Pacific/Kiritimati', now)).toBe('times in Pacific/Kiritimati');
  });
});

describe('the API', () => {
  afterEach(() => vi.unstubAllGlobals());
  const serve = (status: number, body: unknown) => {
    const calls: { path: string; options: RequestInit }[] = [];
    vi.stubGlobal('fetch', async (path: string, options: RequestInit) => {
      calls.push({ path, options });
      return new Response(status === 204 ? null : JSON.stringify(body), { status });
    });
    return calls;
  };
  it('carries the token with changes only', async () => {
    connectApi({ csrf: 'token' });
    const calls = serve(200, { ok: true });
    await call('whoAmI', {});
    await call('keepApproval', { brand: 1 }, { body: { by: 'nobody' } });
    expect(calls[0]!.options.headers).toEqual({});
    expect(calls[1]!.options.headers).toEqual({ 'content-type': 'application/json', 'x-csrf-token': 'token' });
  });
  it('gives refusals in the server’s own sentence, with what else it said', async () => {
    serve(422, { title: 'Choose what to watch.', reasons: ['a', 'b'] });
    const refused = await call('signOut', {}).catch((error: unknown) => error);
    expect(refused).toBeInstanceOf(Refused);
    expect(refused).toMatchObject({ status: 422, message: 'Choose what to watch.', details: { reasons: ['a', 'b'] } });
  });
  it('tells when the session is over, but not for a wrong password', async () => {
    let over = 0;
    connectApi({ signedOut: () => over++ });
    serve(401, { title: 'You are signed out.' });
    await call('whoAmI', {}).catch(() => undefined);
    await call('signIn', {}, { body: { email: 'mo@example.com', password: 'wrong' } }).catch(() => undefined);
    expect(over).toBe(1);
  });
  it('finds an endpoint by its name, with names and words in its address as they are', async () => {
    const calls = serve(200, {});
    await call('keepSecret', { brand: 3, name: 'a/b c' }, { body: { value: 'x' } });
    await call('listContacts', { brand: 3 }, { query: { words: 'sea & sun', most: 5 } });
    expect(calls.map(({ path, options }) => [options.method, path])).toEqual([
      ['PUT', '/api/brands/3/secrets/a%2Fb%20c'],
      ['GET', '/api/brands/3/contacts?words=sea+%26+sun&most=5'],
    ]);
    expect(addressOf('exportSheet', { brand: 3, id: 4 }, { as: 'csv' })).toBe('/api/brands/3/sheets/4/export?as=csv');
  });
  it('sends a file as it is', async () => {
    const calls = serve(201, { file: {} });
    const file = new Blob(['sea']);
    await call('addFile', { brand: 1 }, { query: { name: 'sea.png' }, file });
    expect(calls[0]!.options.body).toBe(file);
    expect(calls[0]!.options.headers).toMatchObject({ 'content-type': 'application/octet-stream' });
  });
  it('says that what was typed is kept when nobody answers', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('failed')));
    await expect(call('whoAmI', {})).rejects.toThrow('What you typed is kept here.');
  });
  it('takes an empty answer for what it is', async () => {
    serve(204, null);
    expect(await call('signOut', {})).toBeUndefined();
  });
});

it('ids of steps fit the schema and do not repeat', () => {
  const ids = Array.from({ length: 2000 }, stepId);
  expect(ids.every((id) => /^[\w-]{1,40}$/.test(id))).toBe(true);
  expect(new Set(ids).size).toBe(ids.length);
});

it('says who needs something, whatever their names hold', () => {
  expect(needOne([])).toBe('');
  expect(needOne(['A board'])).toBe('A board needs one.');
  expect(needOne(['A board', '@us, photo feed', 'B'])).toBe('A board; @us, photo feed and B need one.');
});
