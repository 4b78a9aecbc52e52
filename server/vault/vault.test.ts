import { randomBytes } from 'node:crypto';
import { expect, it } from 'vitest';
import { Vault } from './vault.ts';

const key = randomBytes(32);
const vault = new Vault(key);

it('gives back what was sealed, and never seals the same way twice', () => {
  const one = vault.seal('a token', 'account:1:pages');
  const two = vault.seal('a token', 'account:1:pages');
  expect(one.equals(two)).toBe(false);
  expect(one.toString('latin1')).not.toContain('a token');
  expect(vault.open(one, 'account:1:pages')).toBe('a token');
});
it('opens nothing that was changed, moved to another owner, or sealed under another key', () => {
  const sealed = vault.seal('a token', 'account:1:pages');
  for (const index of [0, 5, 20, sealed.length - 1]) {
    const changed = Buffer.from(sealed);
    changed[index]! ^= 1;
    expect(() => vault.open(changed, 'account:1:pages')).toThrow();
  }
  expect(() => vault.open(sealed, 'account:2:pages')).toThrow();
  expect(() => new Vault(randomBytes(32)).open(sealed, 'account:1:pages')).toThrow();
  expect(() => new Vault(randomBytes(16))).toThrow();
});
