import { change, select, toTime, type Queryable } from '../db/database.ts';

/** Adds calls that accounts have made, by the hour. */
export async function addCalls(
  db: Queryable,
  calls: readonly { account: number; hour: number; calls: number }[],
): Promise<void> {
  if (calls.length === 0) return;
  await change(
    db,
    'INSERT INTO account_calls (account_id, hour, calls) VALUES ? ON DUPLICATE KEY UPDATE calls = calls + VALUES(calls)',
    [calls.map((each) => [each.account, toTime(each.hour), each.calls])],
  );
}

/** How many calls each account of a brand has made since a moment. */
export async function callsSince(db: Queryable, brandId: number, since: number): Promise<Map<number, number>> {
  const rows = await select<{ account_id: number; calls: string }>(
    db,
    `SELECT c.account_id, SUM(c.calls) AS calls FROM account_calls c JOIN accounts a ON a.id = c.account_id
     WHERE a.brand_id = ? AND c.hour >= ? GROUP BY c.account_id`,
    [brandId, toTime(since)],
  );
  return new Map(rows.map((row) => [row.account_id, Number(row.calls)]));
}

/** Forgets what is older than a moment. */
export async function dropCalls(db: Queryable, before: number): Promise<void> {
  await change(db, 'DELETE FROM account_calls WHERE hour < ?', [toTime(before)]);
}
