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

export async function brandsOf(db: Queryable, userId: number): Promise<Brand[]> {
  const rows = await select<BrandRow>(
    db,
    'SELECT b.* FROM brands b JOIN memberships m ON m.brand_id = b.id WHERE m.user_id = ? ORDER BY b.id',
    [userId],
  );
  return rows.map(readBrand);
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

/** Failed sign-ins since a moment, for one address of a person and for one address on the network. */
export async function failuresSince(
  db: Queryable,
  email: string,
  address: string,
  since: number,
): Promise<{ email: number; address: number }> {
  const [row] = await select<{ of_email: number; of_address: number }>(
    db,
    `SELECT (SELECT COUNT(*) FROM sign_in_failures WHERE email = ? AND at > ?) AS of_email,
            (SELECT COUNT(*) FROM sign_in_failures WHERE address = ? AND at > ?) AS of_address`,
    [email, toTime(since), address, toTime(since)],
  );
  return { email: Number(row!.of_email), address: Number(row!.of_address) };
}

export async function addFailure(db: Queryable, email: string, address: string, now: number): Promise<void> {
  await change(db, 'INSERT INTO sign_in_failures (email, address, at) VALUES (?, ?, ?)', [email, address, toTime(now)]);
  await change(db, 'DELETE FROM sign_in_failures WHERE at < ?', [toTime(now - 86_400_000)]);
}

export async function forgetFailures(db: Queryable, email: string): Promise<void> {
  await change(db, 'DELETE FROM sign_in_failures WHERE email = ?', [email]);
}

/** Everybody who works for a brand. */
export async function membersOf(db: Queryable, brandId: number): Promise<{ id: number; name: string }[]> {
  return select(
    db,
    'SELECT u.id, u.name FROM memberships m JOIN users u ON u.id = m.user_id WHERE m.brand_id = ? ORDER BY u.name',
    [brandId],
  );
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
