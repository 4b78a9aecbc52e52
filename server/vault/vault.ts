import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';

const VERSION = 1;
const NONCE = 12;
const TAG = 16;

/**
 * Seals credentials with AES-256-GCM (NIST SP 800-38D). The key is not in the database. What a secret belongs to is
 * bound in, so that a sealed secret moved to another row does not open.
 */
export class Vault {
  readonly #key: Buffer;

  /** @param key 32 bytes */
  constructor(key: Buffer) {
    if (key.length !== 32) throw new Error('The vault needs a key of 32 bytes.');
    this.#key = key;
  }

  /** @returns version, nonce, tag and ciphertext, in this order */
  seal(secret: string, belongsTo: string): Buffer {
    const nonce = randomBytes(NONCE);
    const cipher = createCipheriv('aes-256-gcm', this.#key, nonce, { authTagLength: TAG });
    cipher.setAAD(Buffer.from(belongsTo));
    const sealed = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
    return Buffer.concat([Buffer.from([VERSION]), nonce, cipher.getAuthTag(), sealed]);
  }

  /** @throws when the key is another one, the bytes were changed, or the secret belongs to something else */
  open(sealed: Buffer, belongsTo: string): string {
    if (sealed[0] !== VERSION)
      throw new Error('This secret was sealed in a way that this version of Playa does not know.');
    const decipher = createDecipheriv('aes-256-gcm', this.#key, sealed.subarray(1, 1 + NONCE), { authTagLength: TAG });
    decipher.setAAD(Buffer.from(belongsTo));
    decipher.setAuthTag(sealed.subarray(1 + NONCE, 1 + NONCE + TAG));
    return Buffer.concat([decipher.update(sealed.subarray(1 + NONCE + TAG)), decipher.final()]).toString('utf8');
  }
}
