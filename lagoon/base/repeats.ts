import { createHash } from 'node:crypto';
import type { RowDataPacket } from 'mysql2';
import { CONNECTIONS, type Database } from './db.ts';

/**
 * Each holds a connection while the thing is made over another: were all of the pool's held like this, nobody could ever
 * go on. So at most half of them are.
 */
const AT_ONCE = CONNECTIONS / 2;
let running = 0;
const waiting: (() => void)[] = [];
async function turn(): Promise<void> {
  if (running >= AT_ONCE) await new Promise<void>((go) => waiting.push(go));
  else running++;
}
/** Hands the turn to whoever waits longest. */
function done(): void {
  const next = waiting.shift();
  if (next) next();
  else running--;
}

/**
 * Does something once for each key of a client: the same request a second time gives the first one's result, another
 * one under the same key is refused (the Idempotency-Key header, draft-ietf-httpapi-idempotency-key-header section 2).
 *
 * @param make makes the thing and gives its number
 */
export async function once(
  db: Database,
  { client, key, request }: { client: string; key: string; request: unknown },
  make: () => Promise<number>,
): Promise<{ kind: 'made' | 'repeated'; id: number } | { kind: 'mismatch' }> {
  const hash = createHash('sha256').update(JSON.stringify(request)).digest('hex');
  await turn();
  const connection = await db.getConnection().catch((error: unknown) => {
    done();
    throw error;
  });
  try {
    await connection.beginTransaction();
    await connection.query(
      'INSERT IGNORE INTO repeat_keys (client_id, repeat_key, body_hash, created_at) VALUES (?, ?, ?, ?)',
      [client, key, hash, Date.now()],
    );
    // Whoever comes with the same key meanwhile waits here.
    const [[known]] = await connection.query<RowDataPacket[]>(
      'SELECT body_hash, post_id FROM repeat_keys WHERE client_id = ? AND repeat_key = ? FOR UPDATE',
      [client, key],
    );
    if (known!.body_hash !== hash) {
      await connection.rollback();
      return { kind: 'mismatch' };
    }
    if (known!.post_id !== null) {
      await connection.commit();
      return { kind: 'repeated', id: Number(known!.post_id) };
    }
    const id = await make();
    await connection.query('UPDATE repeat_keys SET post_id = ? WHERE client_id = ? AND repeat_key = ?', [
      id,
      client,
      key,
    ]);
    await connection.commit();
    return { kind: 'made', id };
  } catch (error) {
    await connection.rollback();
    throw error;
  } finally {
    connection.release();
    done();
  }
}
