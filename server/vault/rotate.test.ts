import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { sessionFor } from '../accounts/sessions.ts';
import { accountBy } from '../store/accounts.ts';
import { hookBy } from '../store/hooks.ts';
import { keepSecret, sealedSecret } from '../store/secrets.ts';
import { openHouse, type House } from '../testing/house.ts';
import { hookAddress, makeHook } from '../watch/hooks.ts';
import { rotateKeys } from './rotate.ts';
import { Vault } from './vault.ts';

let house: House;
beforeAll(async () => {
  house = await openHouse();
});
afterAll(() => house?.close());

describe('a key of the vault', () => {
  it('is changed over: old rows open during and after, and no longer with the old key alone', async () => {
    const { services, lidos } = house;
    const account = (await accountBy(services.pool, lidos, await house.connect('pages')))!;
    const hook = await makeHook(services, lidos, 'A hook');
    const address = hookAddress(services, (await hookBy(services.pool, lidos, hook))!);
    await keepSecret(services.pool, lidos, 'lookups', services.vault.seal('s3cret', `secret:${lidos}:lookups`), 1);
    const token = await sessionFor(services, account).token();

    const before = Buffer.from(house.env.PLAYA_VAULT_KEY!, 'base64');
    const after = randomBytes(32);
    const both = { ...services, vault: new Vault(after, [before]) };
    expect(await sessionFor(both, account).token()).toBe(token);
    expect(await rotateKeys(both)).toBeGreaterThanOrEqual(3);

    const only = { ...services, vault: new Vault(after) };
    expect(await sessionFor(only, account).token()).toBe(token);
    expect(hookAddress(only, (await hookBy(services.pool, lidos, hook))!)).toBe(address);
    const sealed = (await sealedSecret(services.pool, lidos, 'lookups'))!;
    expect(only.vault.open(sealed, `secret:${lidos}:lookups`)).toBe('s3cret');
    expect(() => services.vault.open(sealed, `secret:${lidos}:lookups`)).toThrow();
  });

  it('that is missing leaves everything as it was', async () => {
    const { services, lidos } = house;
    const lost = { ...services, vault: new Vault(randomBytes(32)) };
    const sealed = await sealedSecret(services.pool, lidos, 'lookups');
    await expect(rotateKeys(lost)).rejects.toThrow();
    expect(await sealedSecret(services.pool, lidos, 'lookups')).toEqual(sealed);
  });
});
