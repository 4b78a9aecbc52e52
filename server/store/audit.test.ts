// What is written down of what people do: once for what goes on for a while, and never a secret.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openHouse, type House } from '../testing/house.ts';
import { changeHook } from '../watch/change-hook.ts';
import { hookAddress, makeHook } from '../watch/hooks.ts';
import { addAudit, addAuditOnce, auditOf, type Deed } from './audit.ts';
import { hookBy } from './hooks.ts';
import { addUser } from './users.ts';

let house: House;
beforeAll(async () => void (house = await openHouse()));
afterAll(() => house?.close());

describe('what goes on for a while', () => {
  const SITTING = 600_000;
  it('is written once, until it is over or somebody else has a hand in it', async () => {
    const { pool } = house.services;
    const ana = await addUser(pool, { email: 'ana@ternbay.example', name: 'Ana Prata', passwordHash: 'x' });
    const deed = { brandId: house.lidos, did: 'changed', about: 'workflow', id: 77, name: 'Films' } as const;
    const types = (userId: number, at: number) =>
      addAuditOnce(pool, { kind: 'person', userId }, deed, house.clock.now + at, SITTING);
    const written = async () =>
      (await auditOf(pool, house.lidos, 'workflow', [77])).map(({ by, did }) => `${by} ${did}`);
    await types(house.mo, 0);
    await types(house.mo, 1000);
    await types(house.mo, SITTING - 1);
    expect(await written()).toEqual(['Mo Okoro changed']);
    await types(house.mo, SITTING);
    expect(await written()).toHaveLength(2);
    await types(ana, SITTING + 1);
    await types(house.mo, SITTING + 2);
    expect((await written()).slice(0, 2)).toEqual(['Mo Okoro changed', 'Ana Prata changed']);
    // Something else in between: what was changed before it and after it are two.
    const live: Deed = { ...deed, did: 'went live' };
    await addAudit(pool, { kind: 'person', userId: house.mo }, live, house.clock.now + SITTING + 3);
    await types(house.mo, SITTING + 4);
    expect((await written()).slice(0, 2)).toEqual(['Mo Okoro changed', 'Mo Okoro went live']);
    const only = await auditOf(pool, house.lidos, 'workflow', [77], { did: ['went live'] });
    expect(only.map(({ did }) => did)).toEqual(['went live']);
  });
});

describe('a web hook', () => {
  it('says who changed what of it, and neither where it is called nor what signs', async () => {
    const { services, lidos } = house;
    const id = await makeHook(services, lidos, 'Closures');
    const before = hookAddress(services, (await hookBy(services.pool, lidos, id))!);
    const signed = await changeHook(services, lidos, id, { signed: true, identityField: 'number', newAddress: true });
    const after = hookAddress(services, (await hookBy(services.pool, lidos, id))!);
    expect(after).not.toBe(before);
    const deeds = await auditOf(services.pool, lidos, 'source', [id]);
    expect(deeds.map(({ did, became }) => `${did}${became ? ` ${became}` : ''}`)).toEqual([
      'changed address: another',
      'changed signed: yes',
      'changed told apart by: number',
      'made',
    ]);
    const said = JSON.stringify(deeds);
    for (const secret of [before, after].map((address) => address.split('/').at(-1)!))
      expect(said).not.toContain(secret);
    expect(signed).toEqual({ secret: expect.stringMatching(/^whsec_/) as string });
    expect(said).not.toContain('whsec');
  });
  it('is changed as a whole or not at all', async () => {
    const { services, lidos } = house;
    const id = await makeHook(services, lidos, 'Prices');
    expect(await changeHook(services, lidos, id, { identityField: 'sku', oldAddress: true })).toBe('no old address');
    expect((await hookBy(services.pool, lidos, id))!.identityField).toBeNull();
    expect(await changeHook(services, house.bakehouse, id, { signed: true })).toBe('no hook');
    expect(await auditOf(services.pool, lidos, 'source', [id])).toHaveLength(1);
  });
});
