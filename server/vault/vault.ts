import {
  createCipheriv,
  createDecipheriv,
  createHmac,
  hkdfSync,
  randomBytes,
  timingSafeEqual,
  type BinaryLike,
} from 'node:crypto';

const VERSION = 1;
const NONCE = 12;
const TAG = 16;

/**
 * Seals credentials with AES-256-GCM (NIST SP 800-38D). The key is not in the database. What a secret belongs to is
 * bound in, so that a sealed secret moved to another row does not open.
 */
export class Vault {
  readonly #key: Buffer;
  readonly #old: readonly Buffer[];

  /**
   * @param key 32 bytes
   * @param old keys that were in use before; what they sealed is still opened
   */
  constructor(key: Buffer, old: readonly Buffer[] = []) {
    if ([key, ...old].some((each) => each.length !== 32)) throw new Error('The vault needs keys of 32 bytes.');
    this.#key = key;
    this.#old = old;
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
    try {
      return decipher(this.#key, sealed, belongsTo);
    } catch (error) {
      for (const key of this.#old) {
        try {
          return decipher(key, sealed, belongsTo);
        } catch {
          // Sealed under yet another one.
        }
      }
      throw error;
    }
  }

  /** A signature of a text that only this installation can make: HMAC-SHA-256 (RFC 2104), base64url. The same each time. */
  sign(text: string, purpose: string): string {
    return signature(this.#key, text, purpose);
  }

  /** Whether a signature was made here, under this key or one before it. */
  isSigned(text: string, purpose: string, signed: string): boolean {
    const given = Buffer.from(signed);
    return [this.#key, ...this.#old].some((key) => {
      const right = Buffer.from(signature(key, text, purpose));
      return given.length === right.length && timingSafeEqual(given, right);
    });
  }
}

/** The sealing key itself signs nothing: each purpose has a key derived from it (RFC 5869). */
function signature(key: BinaryLike, text: string, purpose: string): string {
  const derived = Buffer.from(hkdfSync('sha256', key, '', purpose, 32));
  return createHmac('sha256', derived).update(text).digest('base64url');
}

function decipher(key: Buffer, sealed: Buffer, belongsTo: string): string {
  const opener = createDecipheriv('aes-256-gcm', key, sealed.subarray(1, 1 + NONCE), { authTagLength: TAG });
  opener.setAAD(Buffer.from(belongsTo));
  opener.setAuthTag(sealed.subarray(1 + NONCE, 1 + NONCE + TAG));
  return Buffer.concat([opener.update(sealed.subarray(1 + NONCE + TAG)), opener.final()]).toString('utf8');
}
