import * as oauth from 'oauth4webapi';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { change, select } from '../db/database.ts';
import { consentAs } from '../demo/lagoon.ts';
import { accountBy, accountsOf, tokensOf } from '../store/accounts.ts';
import { outletsOf } from '../store/outlets.ts';
import { brandsOf } from '../store/users.ts';
import { openHouse, type House } from '../testing/house.ts';
import { beginConnect, disconnect, finishConnect, refreshOutlets } from './connect.ts';
import { sessionFor } from './sessions.ts';
import { suggestName } from './sign-in.ts';

let house: House;
beforeAll(async () => {
  house = await openHouse();
});
afterAll(() => house?.close());

const begin = (brandId = house.lidos) =>
  beginConnect(house.services, { brandId, userId: house.mo, kind: 'pages', backTo: '/accounts' });
const finish = async (answer: URLSearchParams, user = house.mo) => {
  const brands = await brandsOf(house.services.pool, house.mo);
  return finishConnect(house.services, user, answer, (id) => brands.find((brand) => brand.id === id));
};

it('PKCE makes the challenge of RFC 7636 appendix B', async () => {
  expect(await oauth.calculatePKCECodeChallenge('dBjftJeZ4CVP-mB92K27uhbUJU1p1r_wW1gFWFOEjXk')).toBe(
    'E9Melhoa2OwvFrEMTJguCHaoeK1t8URWbuGJSstw-cM',
  );
});

describe('connecting', () => {
  it('sends the person away with state and a S256 challenge, and stores who came back', async () => {
    const page = new URL(await begin());
    expect(page.searchParams.get('code_challenge_method')).toBe('S256');
    expect(page.searchParams.get('code_challenge')).toMatch(/^[\w-]{43}$/);
    expect(page.searchParams.get('state')!.length).toBeGreaterThanOrEqual(32);
    const { accountId } = await finish(await consentAs(house.services, 1, page.href));
    expect(await accountBy(house.services.pool, house.lidos, accountId)).toMatchObject({
      kind: 'pages',
      remoteName: 'Mo Okoro',
      status: 'ok',
    });
    expect((await outletsOf(house.services.pool, house.lidos)).map((outlet) => outlet.name)).toEqual([
      'Gannet Point pool',
      'Old Quay pool',
      'Tern Bay Lidos',
    ]);
    const kept = await select<{ sealed: Buffer }>(house.services.pool, 'SELECT sealed FROM accounts WHERE id = ?', [
      accountId,
    ]);
    const token = await sessionFor(house.services, { id: accountId, kind: 'pages' }).token();
    expect(kept[0]!.sealed.includes(token)).toBe(false);
  });
  it('takes an answer once, from the one who left, and only for a state it gave', async () => {
    const answer = await consentAs(house.services, 1, await begin());
    const forged = new URLSearchParams(answer);
    forged.set('state', 'forged');
    await expect(finish(forged)).rejects.toThrow('not begun here');
    await expect(finish(answer, 999)).rejects.toThrow('not begun here');
    // The state was spent by the wrong person; the right one has to begin again.
    await expect(finish(answer)).rejects.toThrow('not begun here');
  });
  it('says so when the person refuses, and stores nothing', async () => {
    const before = (await accountsOf(house.services.pool, house.bakehouse)).length;
    const page = new URL(await begin(house.bakehouse));
    await expect(
      finish(new URLSearchParams({ error: 'access_denied', state: page.searchParams.get('state')! })),
    ).rejects.toThrow('Access was refused at Lagoon Pages. Nothing was connected.');
    expect(await accountsOf(house.services.pool, house.bakehouse)).toHaveLength(before);
  });
  it('keeps account, name and outlets when somebody connects again', async () => {
    const [first] = await accountsOf(house.services.pool, house.lidos);
    await change(house.services.pool, "UPDATE accounts SET name = 'The pages' WHERE id = ?", [first!.id]);
    expect(await house.connect('pages')).toBe(first!.id);
    expect((await accountBy(house.services.pool, house.lidos, first!.id))!.name).toBe('The pages');
    expect(await outletsOf(house.services.pool, house.lidos)).toHaveLength(3);
  });
  it('suggests a name that says who, what for and since when, in the brand’s month', () => {
    expect(suggestName('posting', 'Mo', Date.UTC(2026, 10, 30, 23, 30), { timeZone: 'Asia/Tokyo', locale: 'en' })).toBe(
      'Mo, for posting, since December 2026',
    );
  });
});

describe('tokens', () => {
  it('are renewed ahead of time, once, however many ask', async () => {
    const [account] = await accountsOf(house.services.pool, house.lidos);
    const ask = () => sessionFor(house.services, account!).token();
    const before = await ask();
    house.clock.now += 3_550_000;
    const tokens = await Promise.all(Array.from({ length: 8 }, ask));
    expect(new Set(tokens).size).toBe(1);
    expect(tokens[0]).not.toBe(before);
    // Lagoon would have ended the grant had a refresh token been used twice.
    await refreshOutlets(house.services, house.lidos, account!.id);
    expect((await accountBy(house.services.pool, house.lidos, account!.id))!.status).toBe('ok');
  });
  it('that the network takes back make the account say so', async () => {
    const [account] = await accountsOf(house.services.pool, house.lidos);
    await fetch(`${house.lagoon}/control/revoke-all`, { method: 'POST', redirect: 'manual' });
    await expect(refreshOutlets(house.services, house.lidos, account!.id)).rejects.toThrow(
      'no longer accepts the sign-in',
    );
    expect((await accountBy(house.services.pool, house.lidos, account!.id))!.status).toBe('reconnect');
    await house.connect('pages');
    expect((await accountBy(house.services.pool, house.lidos, account!.id))!.status).toBe('ok');
  });
  it('are given back and forgotten on disconnecting', async () => {
    const [account] = await accountsOf(house.services.pool, house.lidos);
    const token = await sessionFor(house.services, account!).token();
    await disconnect(house.services, house.lidos, account!.id);
    expect((await tokensOf(house.services.pool, account!.id))!.sealed).toBeNull();
    const answer = await fetch(`${house.lagoon}/pages/api/me`, { headers: { authorization: `Bearer ${token}` } });
    expect(answer.status).toBe(401);
    await expect(sessionFor(house.services, account!).token()).rejects.toThrow('connected again');
  });
});
