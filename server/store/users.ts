import type { Role } from '@playa/core/access/actions.ts';
import { policySchema, type Policy } from '@playa/core/desk/policy.ts';
import { usualVoice, voiceSchema, type Voice } from '@playa/core/voice/voice.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

export interface User {
  id: number;
  email: string;
  name: string;
}
export interface Brand {
  id: number;
  name: string;
  timeZone: string;
  locale: string;
}

/** A brand of somebody's, and what they are there. */
export interface Membership extends Brand {
  role: Role;
}

export async function addUser(
  db: Queryable,
  user: { email: string; name: string; passwordHash: string },
): Promise<number> {
  return (
    await change(db, 'INSERT INTO users (email, name, password_hash) VALUES (?, ?, ?)', [
      user.email,
      user.name,
      user.passwordHash,
    ])
  ).id;
}

export async function userByEmail(
  db: Queryable,
  email: string,
): Promise<(User & { passwordHash: string }) | undefined> {
  const [row] = await select<User & { password_hash: string }>(
    db,
    'SELECT id, email, name, password_hash FROM users WHERE email = ?',
    [email],
  );
  return row && { id: row.id, email: row.email, name: row.name, passwordHash: row.password_hash };
}

export async function addBrand(db: Queryable, brand: Omit<Brand, 'id'>): Promise<number> {
  return (
    await change(db, 'INSERT INTO brands (name, time_zone, locale) VALUES (?, ?, ?)', [
      brand.name,
      brand.timeZone,
      brand.locale,
    ])
  ).id;
}

export async function addMembership(db: Queryable, userId: number, brandId: number): Promise<void> {
  await change(db, 'INSERT IGNORE INTO memberships (user_id, brand_id) VALUES (?, ?)', [userId, brandId]);
}

interface BrandRow {
  id: number;
  name: string;
  time_zone: string;
  locale: string;
}
const readBrand = (row: BrandRow): Brand => ({
  id: row.id,
  name: row.name,
  timeZone: row.time_zone,
  locale: row.locale,
});

export async function brandsOf(db: Queryable, userId: number): Promise<Membership[]> {
  const rows = await select<BrandRow>(
    db,
    'SELECT b.* FROM brands b JOIN memberships m ON m.brand_id = b.id WHERE m.user_id = ? ORDER BY b.id',
    [userId],
  );
  // There is one role for now.
  return rows.map((row) => ({ ...readBrand(row), role: 'member' as const }));
}

export async function brandById(db: Queryable, brandId: number): Promise<Brand | undefined> {
  return (await select<BrandRow>(db, 'SELECT * FROM brands WHERE id = ?', [brandId])).map(readBrand)[0];
}

export async function anyUser(db: Queryable): Promise<boolean> {
  return (await select(db, 'SELECT id FROM users LIMIT 1')).length > 0;
}

export interface Session {
  user: User;
  csrf: string;
  expiresAt: number;
}

export async function addSession(
  db: Queryable,
  session: { tokenHash: Buffer; userId: number; csrf: string; now: number; expiresAt: number },
): Promise<void> {
  await change(db, 'INSERT INTO sessions (token_hash, user_id, csrf, created_at, expires_at) VALUES (?, ?, ?, ?, ?)', [
    session.tokenHash,
    session.userId,
    session.csrf,
    toTime(session.now),
    toTime(session.expiresAt),
  ]);
  await change(db, 'DELETE FROM sessions WHERE expires_at < ?', [toTime(session.now)]);
}

export async function sessionBy(db: Queryable, tokenHash: Buffer, now: number): Promise<Session | undefined> {
  const [row] = await select<User & { csrf: string; expires_at: Date }>(
    db,
    `SELECT u.id, u.email, u.name, s.csrf, s.expires_at FROM sessions s JOIN users u ON u.id = s.user_id
     WHERE s.token_hash = ? AND s.expires_at > ?`,
    [tokenHash, toTime(now)],
  );
  return (
    row && {
      user: { id: row.id, email: row.email, name: row.name },
      csrf: row.csrf,
      expiresAt: fromTime(row.expires_at),
    }
  );
}

export async function endSession(db: Queryable, tokenHash: Buffer): Promise<void> {
  await change(db, 'DELETE FROM sessions WHERE token_hash = ?', [tokenHash]);
}

/** Ends all sessions of a person, on whatever device, and forgets the devices. Returns what they were known by. */
export async function endAllSessions(db: Queryable, userId: number): Promise<Buffer[]> {
  const rows = await select<{ token_hash: Buffer }>(db, 'SELECT token_hash FROM sessions WHERE user_id = ?', [userId]);
  await change(db, 'DELETE FROM sessions WHERE user_id = ?', [userId]);
  await change(db, 'DELETE FROM devices WHERE user_id = ?', [userId]);
  return rows.map((row) => row.token_hash);
}

/** Which of these sessions are still going on. */
export async function openSessions(db: Queryable, tokens: readonly Buffer[], now: number): Promise<Set<string>> {
  if (tokens.length === 0) return new Set();
  const rows = await select<{ token_hash: Buffer }>(
    db,
    'SELECT token_hash FROM sessions WHERE token_hash IN (?) AND expires_at > ?',
    [tokens, toTime(now)],
  );
  return new Set(rows.map((row) => row.token_hash.toString('hex')));
}

/** A device that somebody did not use for so long is a new one. */
const DEVICE_LIFE = 365 * 86_400_000;

/** Whether a person has signed in at this device before. */
export async function knowsDevice(db: Queryable, tokenHash: Buffer, email: string): Promise<boolean> {
  const rows = await select(
    db,
    'SELECT 1 FROM devices d JOIN users u ON u.id = d.user_id WHERE d.token_hash = ? AND u.email = ?',
    [tokenHash, email],
  );
  return rows.length > 0;
}

/** Remembers the device at which somebody signed in. */
export async function keepDevice(db: Queryable, tokenHash: Buffer, userId: number, now: number): Promise<void> {
  await change(
    db,
    `INSERT INTO devices (token_hash, user_id, created_at, last_at) VALUES (?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE user_id = VALUES(user_id), last_at = VALUES(last_at)`,
    [tokenHash, userId, toTime(now), toTime(now)],
  );
  await change(db, 'DELETE FROM devices WHERE last_at < ?', [toTime(now - DEVICE_LIFE)]);
}

/** Everybody who works for a brand. */
export async function membersOf(db: Queryable, brandId: number): Promise<{ id: number; name: string }[]> {
  return select(
    db,
    'SELECT u.id, u.name FROM memberships m JOIN users u ON u.id = m.user_id WHERE m.brand_id = ? ORDER BY u.name',
    [brandId],
  );
}

/** Words by which somebody asks a brand not to write to them any more, separated by commas. */
export async function stopWords(db: Queryable, brandId: number): Promise<string> {
  const [row] = await select<{ words: string }>(db, 'SELECT stop_words AS words FROM brands WHERE id = ?', [brandId]);
  return row?.words ?? '';
}

export async function setStopWords(db: Queryable, brandId: number, words: string): Promise<void> {
  await change(db, 'UPDATE brands SET stop_words = ? WHERE id = ?', [words, brandId]);
}

/** Which answers of a brand go out by themselves; null as long as nobody has said anything. */
export async function policyOf(db: Queryable, brandId: number, lock = false): Promise<Policy | null> {
  const [row] = await select<{ policy: string | null }>(
    db,
    `SELECT policy FROM brands WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [brandId],
  );
  // One that another version of Playa wrote is not taken for none: then nothing goes out by itself.
  return row?.policy ? (policySchema.safeParse(JSON.parse(row.policy)).data ?? NOTHING_ALONE) : null;
}
const NOTHING_ALONE: Policy = { rows: [], otherwise: 'hold', copyTo: [] };

export async function setPolicy(db: Queryable, brandId: number, policy: Policy): Promise<void> {
  await change(db, 'UPDATE brands SET policy = ? WHERE id = ?', [JSON.stringify(policy), brandId]);
}

/** How a brand sounds when it answers, and what it may tell. */
export async function voiceOf(db: Queryable, brandId: number, lock = false): Promise<Voice> {
  const [row] = await select<{ voice: string | null; locale: string }>(
    db,
    `SELECT voice, locale FROM brands WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [brandId],
  );
  const kept = row?.voice ? voiceSchema.safeParse(JSON.parse(row.voice)).data : undefined;
  return kept ?? usualVoice(row?.locale ?? 'en');
}

export async function setVoice(db: Queryable, brandId: number, voice: Voice): Promise<void> {
  await change(db, 'UPDATE brands SET voice = ? WHERE id = ?', [JSON.stringify(voice), brandId]);
}

/** Counts the changes to what compiled workflows of a brand are made of. */
export async function brandEpoch(db: Queryable, brandId: number): Promise<number> {
  const [row] = await select<{ epoch: number }>(db, 'SELECT epoch FROM brands WHERE id = ?', [brandId]);
  return row?.epoch ?? -1;
}

/** Has workflows of a brand compiled anew, everywhere, once this transaction is committed. */
export async function bumpEpoch(db: Queryable, brandId: number): Promise<void> {
  await change(db, 'UPDATE brands SET epoch = epoch + 1 WHERE id = ?', [brandId]);
}
