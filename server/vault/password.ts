import argon2 from 'argon2';

/** Hashes a password with argon2id, at the parameters of RFC 9106 section 4 (second recommended option). */
export const hashPassword = (password: string): Promise<string> =>
  argon2.hash(password, { type: argon2.argon2id, memoryCost: 65_536, timeCost: 3, parallelism: 4 });
