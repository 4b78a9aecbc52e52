import { change, select, type Queryable } from '../db/database.ts';

/** Every place in the database where something sealed lies, with what each row's seal is bound to. */
const PLACES = [
  {
    table: 'accounts',
    column: 'sealed',
    key: ['id'],
    owner: "CONCAT('account:', brand_id, ':', IF(kind = 'text-model', 'drafter', kind))",
  },
  { table: 'secrets', column: 'sealed', key: ['brand_id', 'name'], owner: "CONCAT('secret:', brand_id, ':', name)" },
  { table: 'hooks', column: 'sealed_token', key: ['watch_id'], owner: "CONCAT('hook:', watch_id)" },
  { table: 'hooks', column: 'old_sealed_token', key: ['watch_id'], owner: "CONCAT('hook:', watch_id)" },
  { table: 'hooks', column: 'sealed_secret', key: ['watch_id'], owner: "CONCAT('hook:', watch_id)" },
  { table: 'websub', column: 'sealed_callback', key: ['watch_id'], owner: "CONCAT('websub:', watch_id)" },
  { table: 'websub', column: 'sealed_secret', key: ['watch_id'], owner: "CONCAT('websub:', watch_id)" },
  { table: 'push_subscriptions', column: 'sealed_secret', key: ['watch_id'], owner: "CONCAT('bell:', watch_id)" },
  { table: 'consents', column: 'sealed_verifier', key: ['state_hash'], owner: "CONCAT('consent:', user_id)" },
] as const;

/**
 * Seals everything anew. Run inside a transaction: either all of it is under the new key or none.
 *
 * @param reseal gets the sealed bytes and what they are bound to
 * @returns how many secrets there were
 */
export async function resealAll(db: Queryable, reseal: (sealed: Buffer, owner: string) => Buffer): Promise<number> {
  let count = 0;
  for (const { table, column, key, owner } of PLACES) {
    const rows = await select<Record<string, unknown> & { sealed_bytes: Buffer; sealed_owner: string }>(
      db,
      `SELECT ${key.join(', ')}, ${column} AS sealed_bytes, ${owner} AS sealed_owner FROM ${table} WHERE ${column} IS NOT NULL FOR UPDATE`,
    );
    for (const row of rows) {
      const where = key.map((name) => `${name} = ?`).join(' AND ');
      await change(db, `UPDATE ${table} SET ${column} = ? WHERE ${where}`, [
        reseal(row.sealed_bytes, row.sealed_owner),
        ...key.map((name) => row[name]),
      ]);
      count++;
    }
  }
  return count;
}
