import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

import type { NetworkKind } from '@playa/core/outlets/networks.ts';

export type AccountKind = NetworkKind;
export interface Account {
  id: number;
  brandId: number;
  kind: AccountKind;
  name: string;
  remoteId: string;
  remoteName: string;
  status: 'ok' | 'reconnect' | 'disconnected';
  trouble: string | null;
  connectedAt: number;
  lastOkAt: number | null;
  tokenExpiresAt: number | null;
  /** What was given at the consent, with spaces between; null when the network did not say. */
  scopes: string | null;
}

interface Row {
  id: number;
  brand_id: number;
  kind: AccountKind;
  name: string;
  remote_id: string;
  remote_name: string;
  status: Account['status'];
  trouble: string | null;
  connected_at: Date;
  last_ok_at: Date | null;
  token_expires_at: Date | null;
  scopes: string | null;
}
const COLUMNS =
  'id, brand_id, kind, name, remote_id, remote_name, status, trouble, connected_at, last_ok_at, token_expires_at, scopes';
const read = (row: Row): Account => ({
  id: row.id,
  brandId: row.brand_id,
  kind: row.kind,
  name: row.name,
  remoteId: row.remote_id,
  remoteName: row.remote_name,
  status: row.status,
  trouble: row.trouble,
  connectedAt: fromTime(row.connected_at),
  lastOkAt: fromTimeOrNull(row.last_ok_at),
  tokenExpiresAt: fromTimeOrNull(row.token_expires_at),
  scopes: row.scopes,
});

export async function accountsOf(db: Queryable, brandId: number): Promise<Account[]> {
  return (
    await select<Row>(db, `SELECT ${COLUMNS} FROM accounts WHERE brand_id = ? ORDER BY kind, name`, [brandId])
  ).map(read);
}

/** @param after the number behind which they begin */
export async function accountsPage(db: Queryable, brandId: number, after: number, most: number): Promise<Account[]> {
  const rows = await select<Row>(
    db,
    `SELECT ${COLUMNS} FROM accounts WHERE brand_id = ? AND id > ? ORDER BY id LIMIT ?`,
    [brandId, after, most],
  );
  return rows.map(read);
}

/** @param id null where no account leads to something; then there is none */
export async function accountBy(db: Queryable, brandId: number, id: number | null): Promise<Account | undefined> {
  if (id === null) return undefined;
  return (await select<Row>(db, `SELECT ${COLUMNS} FROM accounts WHERE brand_id = ? AND id = ?`, [brandId, id])).map(
    read,
  )[0];
}

/** The brand's account of somebody at a network. */
export async function accountByRemote(
  db: Queryable,
  brandId: number,
  kind: AccountKind,
  remoteId: string,
): Promise<Account | undefined> {
  return (
    await select<Row>(db, `SELECT ${COLUMNS} FROM accounts WHERE brand_id = ? AND kind = ? AND remote_id = ?`, [
      brandId,
      kind,
      remoteId,
    ])
  ).map(read)[0];
}

/** Stores a sign-in: a new account, or new tokens for one that is known. Its name and id stay when it is known. */
export async function keepAccount(
  db: Queryable,
  account: {
    brandId: number;
    kind: AccountKind;
    name: string;
    remoteId: string;
    remoteName: string;
    sealed: Buffer;
    tokenExpiresAt: number | null;
    scopes?: string | null;
    now: number;
  },
): Promise<number> {
  await change(
    db,
    `INSERT INTO accounts (brand_id, kind, name, remote_id, remote_name, sealed, token_expires_at, scopes, connected_at, last_ok_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE remote_name = VALUES(remote_name), sealed = VALUES(sealed), token_expires_at = VALUES(token_expires_at),
       scopes = VALUES(scopes), status = 'ok', trouble = NULL, last_ok_at = VALUES(last_ok_at)`,
    [
      account.brandId,
      account.kind,
      account.name,
      account.remoteId,
      account.remoteName,
      account.sealed,
      account.tokenExpiresAt === null ? null : toTime(account.tokenExpiresAt),
      account.scopes ?? null,
      toTime(account.now),
      toTime(account.now),
    ],
  );
  const [row] = await select<{ id: number }>(
    db,
    'SELECT id FROM accounts WHERE brand_id = ? AND kind = ? AND remote_id = ?',
    [account.brandId, account.kind, account.remoteId],
  );
  return row!.id;
}

export interface SealedTokens {
  brandId: number;
  kind: AccountKind;
  status: Account['status'];
  sealed: Buffer | null;
  tokenExpiresAt: number | null;
}

/** The sealed tokens. With `lock`, others wait until this transaction ends: a refresh happens once. */
export async function tokensOf(db: Queryable, accountId: number, lock = false): Promise<SealedTokens | undefined> {
  const [row] = await select<Row & { sealed: Buffer | null }>(
    db,
    `SELECT ${COLUMNS}, sealed FROM accounts WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [accountId],
  );
  return (
    row && {
      brandId: row.brand_id,
      kind: row.kind,
      status: row.status,
      sealed: row.sealed,
      tokenExpiresAt: fromTimeOrNull(row.token_expires_at),
    }
  );
}

export async function keepTokens(
  db: Queryable,
  accountId: number,
  sealed: Buffer,
  expiresAt: number | null,
  now: number,
): Promise<void> {
  await change(db, 'UPDATE accounts SET sealed = ?, token_expires_at = ?, last_ok_at = ? WHERE id = ?', [
    sealed,
    expiresAt === null ? null : toTime(expiresAt),
    toTime(now),
    accountId,
  ]);
}

/** Marks an account as refused by its network. Returns whether that is news. */
export async function markReconnect(db: Queryable, accountId: number, trouble: string): Promise<boolean> {
  const done = await change(
    db,
    "UPDATE accounts SET status = 'reconnect', trouble = ? WHERE id = ? AND status = 'ok'",
    [trouble, accountId],
  );
  return done.rows > 0;
}

/** Notes that the network accepts an account; to the minute, so that many sends do not wait for one another here. */
export async function markOk(db: Queryable, accountId: number, now: number): Promise<void> {
  const stale = await select(
    db,
    "SELECT 1 FROM accounts WHERE id = ? AND status = 'ok' AND (last_ok_at IS NULL OR last_ok_at < ? OR trouble IS NOT NULL)",
    [accountId, toTime(now - 60_000)],
  );
  if (stale.length === 0) return;
  await change(db, "UPDATE accounts SET last_ok_at = ?, trouble = NULL WHERE id = ? AND status = 'ok'", [
    toTime(now),
    accountId,
  ]);
}

export async function renameAccount(db: Queryable, brandId: number, id: number, name: string): Promise<boolean> {
  return (await change(db, 'UPDATE accounts SET name = ? WHERE brand_id = ? AND id = ?', [name, brandId, id])).rows > 0;
}

/** Forgets the tokens; what refers to the account keeps knowing its name. */
export async function disconnectAccount(db: Queryable, brandId: number, id: number): Promise<void> {
  await change(
    db,
    "UPDATE accounts SET status = 'disconnected', sealed = NULL, token_expires_at = NULL, trouble = 'Disconnected by you.' WHERE brand_id = ? AND id = ?",
    [brandId, id],
  );
}

export interface Consent {
  brandId: number;
  userId: number;
  kind: AccountKind;
  sealedVerifier: Buffer;
  backTo: string;
}

export async function addConsent(
  db: Queryable,
  stateHash: Buffer,
  consent: Consent,
  expiresAt: number,
  now: number,
): Promise<void> {
  await change(db, 'DELETE FROM consents WHERE expires_at < ?', [toTime(now)]);
  await change(
    db,
    'INSERT INTO consents (state_hash, brand_id, user_id, kind, sealed_verifier, back_to, expires_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [
      stateHash,
      consent.brandId,
      consent.userId,
      consent.kind,
      consent.sealedVerifier,
      consent.backTo,
      toTime(expiresAt),
    ],
  );
}

/** Takes a consent out: a state answers once. */
export async function takeConsent(db: Queryable, stateHash: Buffer, now: number): Promise<Consent | undefined> {
  const [row] = await select<{
    brand_id: number;
    user_id: number;
    kind: AccountKind;
    sealed_verifier: Buffer;
    back_to: string;
  }>(db, 'SELECT * FROM consents WHERE state_hash = ? AND expires_at > ? FOR UPDATE', [stateHash, toTime(now)]);
  if (!row) return undefined;
  await change(db, 'DELETE FROM consents WHERE state_hash = ?', [stateHash]);
  return {
    brandId: row.brand_id,
    userId: row.user_id,
    kind: row.kind,
    sealedVerifier: row.sealed_verifier,
    backTo: row.back_to,
  };
}

/** The kinds of accounts by their numbers. */
export async function accountKinds(db: Queryable, ids: readonly number[]): Promise<Map<number, AccountKind>> {
  if (ids.length === 0) return new Map();
  const rows = await select<{ id: number; kind: AccountKind }>(db, 'SELECT id, kind FROM accounts WHERE id IN (?)', [
    ids,
  ]);
  return new Map(rows.map((row) => [row.id, row.kind]));
}
