import { randomBytes } from 'node:crypto';
import { rows } from './db.ts';
import type { Lagoon } from './lagoon.ts';

/** Gives a person a key to a service, or to a bot of theirs. */
export async function giveKey(
  lagoon: Lagoon,
  key: { service: string; person: number; name: string; bot?: number },
): Promise<string> {
  const token = `${key.service.slice(0, 3)}_${randomBytes(24).toString('base64url')}`;
  await lagoon.db.query('INSERT INTO given_keys (token, service, person_id, thing_id, name) VALUES (?, ?, ?, ?, ?)', [
    token,
    key.service,
    key.person,
    key.bot ?? null,
    key.name,
  ]);
  return token;
}

export interface GivenKey {
  token: string;
  name: string;
  revoked: number;
  used: number;
  thing_id: number | null;
}

export async function keysOf(lagoon: Lagoon, service: string, person: number): Promise<GivenKey[]> {
  return rows<GivenKey>(lagoon.db, 'SELECT * FROM given_keys WHERE service = ? AND person_id = ? ORDER BY name', [
    service,
    person,
  ]);
}

export async function revokeKey(lagoon: Lagoon, service: string, person: number, token: string): Promise<void> {
  await lagoon.db.query('UPDATE given_keys SET revoked = 1 WHERE token = ? AND service = ? AND person_id = ?', [
    token,
    service,
    person,
  ]);
}
