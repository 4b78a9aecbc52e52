import mysql from 'mysql2/promise';

export type Pool = mysql.Pool;
export type Connection = mysql.PoolConnection;
/** Anything a query can be asked of: the pool, or a connection inside a transaction. */
export type Queryable = Pick<mysql.Pool, 'query' | 'execute'>;

/** Opens a pool. Times are UTC on both sides. */
export function openPool(url: string, connections = 10): Pool {
  const pool = mysql.createPool({
    uri: url,
    charset: 'utf8mb4',
    timezone: 'Z',
    connectionLimit: connections,
    // JSON columns are read as text and parsed by the stores, where Zod sees them.
    jsonStrings: true,
  });
  // The database's own clock too: an hour that comes twice in its zone would else hide what has changed in it.
  pool.on('connection', (connection) => void connection.query("SET time_zone = '+00:00'"));
  return pool;
}

/** Makes the database named in the address when the server does not have it. */
export async function makeDatabase(url: string): Promise<void> {
  const server = new URL(url);
  const name = decodeURIComponent(server.pathname.slice(1));
  server.pathname = '/';
  const connection = await mysql.createConnection(server.href);
  try {
    await connection.query('CREATE DATABASE IF NOT EXISTS ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci', [
      name,
    ]);
  } finally {
    await connection.end();
  }
}

/** Rows of a SELECT. */
export async function select<T>(db: Queryable, sql: string, values: unknown[] = []): Promise<T[]> {
  const [rows] = await db.query<mysql.RowDataPacket[]>(sql, values);
  return rows as T[];
}

/** What an INSERT, UPDATE or DELETE did. */
export async function change(
  db: Queryable,
  sql: string,
  values: unknown[] = [],
): Promise<{ rows: number; id: number }> {
  const [result] = await db.query<mysql.ResultSetHeader>(sql, values);
  return { rows: result.affectedRows, id: result.insertId };
}

/** Two transactions stood in each other's way, or one waited too long for a lock: nothing was done, try again. */
const TRY_AGAIN = new Set(['ER_LOCK_DEADLOCK', 'ER_LOCK_WAIT_TIMEOUT', 'ER_CHECKREAD']);

/**
 * Runs work in one transaction: all of it is stored or none. After a deadlock it is run anew, so it must do nothing
 * outside the database.
 */
export function inTransaction<T>(pool: Pool, work: (connection: Connection) => Promise<T>): Promise<T> {
  // Claims with SKIP LOCKED want no gap locks.
  return transaction(pool, 'READ COMMITTED', 'START TRANSACTION', work);
}

/** The same, with all that is read seen as it was at one moment. */
export function inSnapshot<T>(pool: Pool, work: (connection: Connection) => Promise<T>): Promise<T> {
  return transaction(pool, 'REPEATABLE READ', 'START TRANSACTION WITH CONSISTENT SNAPSHOT', work);
}

async function transaction<T>(
  pool: Pool,
  level: string,
  begin: string,
  work: (connection: Connection) => Promise<T>,
): Promise<T> {
  for (let tries = 1; ; tries++) {
    const connection = await pool.getConnection();
    try {
      await connection.query(`SET TRANSACTION ISOLATION LEVEL ${level}`);
      await connection.query(begin);
      const result = await work(connection);
      await connection.commit();
      return result;
    } catch (error) {
      await connection.rollback().catch(() => connection.destroy());
      if (tries >= 5 || !TRY_AGAIN.has((error as { code?: string }).code ?? '')) throw error;
    } finally {
      connection.release();
    }
  }
}

/**
 * Runs one part of a transaction for itself: when it fails, only what it did is undone, and the transaction can go on to
 * set it aside. What the whole transaction has to be run again for, or the connection is lost by, is thrown further.
 *
 * @throws CouldNotBeStored when this part alone cannot be done
 */
export async function inSavepoint<T>(db: Queryable, work: () => Promise<T>): Promise<T> {
  // One within another needs a name of its own.
  const name = `part_${(savepoints = (savepoints + 1) % 1_000_000)}`;
  await db.query(`SAVEPOINT ${name}`);
  try {
    const result = await work();
    await db.query(`RELEASE SAVEPOINT ${name}`);
    return result;
  } catch (error) {
    if (concernsAll(error)) throw error;
    await db.query(`ROLLBACK TO SAVEPOINT ${name}`);
    throw new CouldNotBeStored(error);
  }
}

let savepoints = 0;

/** Why one part of a transaction was undone. */
export class CouldNotBeStored extends Error {
  override name = 'CouldNotBeStored';
  constructor(cause: unknown) {
    super('This could not be stored.', { cause });
  }
}

/** Whether an error is of the transaction or the connection rather than of what was stored. */
export function concernsAll(error: unknown): boolean {
  const { code = '', fatal } = error as { code?: string; fatal?: boolean };
  return fatal === true || TRY_AGAIN.has(code) || code.startsWith('PROTOCOL_') || AWAY.has(code);
}
const AWAY = new Set([
  'ECONNRESET',
  'ECONNREFUSED',
  'EPIPE',
  'ETIMEDOUT',
  'ER_SERVER_SHUTDOWN',
  'ER_LOCK_TABLE_FULL',
  'ER_DISK_FULL',
  'ER_QUERY_INTERRUPTED',
  'ER_CONNECTION_KILLED',
  'ER_TOO_MANY_CONCURRENT_TRXS',
]);

/** A moment as the database stores it. */
export const toTime = (milliseconds: number): Date => new Date(milliseconds);
export const fromTime = (time: Date): number => time.getTime();
export const fromTimeOrNull = (time: Date | null): number | null => time?.getTime() ?? null;
