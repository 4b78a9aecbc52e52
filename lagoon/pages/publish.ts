import { createHash } from 'node:crypto';
import type { ResultSetHeader, RowDataPacket } from 'mysql2';
import type { Database } from '../base/db.ts';
import type { PostMedia } from './store.ts';

export type Published = { kind: 'made' | 'repeated'; id: number } | { kind: 'mismatch' };

/**
 * Makes a post. With a key, the same request a second time gives the first one's post, and another request under the
 * same key is refused (the Idempotency-Key header, draft-ietf-httpapi-idempotency-key-header section 2).
 */
export async function publishPost(
  db: Database,
  request: {
    page: number;
    client: string;
    key: string | undefined;
    message: string;
    link: string | null;
    media: PostMedia[];
    now: number;
  },
): Promise<Published> {
  const connection = await db.getConnection();
  try {
    await connection.beginTransaction();
    const hash = createHash('sha256')
      .update(JSON.stringify([request.page, request.message, request.link, ...request.media]))
      .digest('hex');
    if (request.key !== undefined) {
      await connection.query(
        'INSERT IGNORE INTO repeat_keys (client_id, repeat_key, body_hash, created_at) VALUES (?, ?, ?, ?)',
        [request.client, request.key, hash, request.now],
      );
      const [[known]] = await connection.query<RowDataPacket[]>(
        'SELECT body_hash, post_id FROM repeat_keys WHERE client_id = ? AND repeat_key = ? FOR UPDATE',
        [request.client, request.key],
      );
      if (known!.body_hash !== hash) {
        await connection.rollback();
        return { kind: 'mismatch' };
      }
      if (known!.post_id !== null) {
        await connection.commit();
        return { kind: 'repeated', id: Number(known!.post_id) };
      }
    }
    const [made] = await connection.query<ResultSetHeader>(
      'INSERT INTO posts (page_id, message, link, media, created_at) VALUES (?, ?, ?, ?, ?)',
      [
        request.page,
        request.message,
        request.link,
        request.media.length ? JSON.stringify(request.media) : null,
        request.now,
      ],
    );
    if (request.key !== undefined) {
      await connection.query('UPDATE repeat_keys SET post_id = ? WHERE client_id = ? AND repeat_key = ?', [
        made.insertId,
        request.client,
        request.key,
      ]);
    }
    await connection.commit();
    return { kind: 'made', id: made.insertId };
  } catch (error) {
    await connection.rollback();
    throw error;
  } finally {
    connection.release();
  }
}
