// Answers of people at the desk that are about to go, and can be called back until then.
import { fromTime, change, toTime, select, type Queryable } from '../db/database.ts';

/** An answer that is about to go, and can be called back until then. */
export interface DeskSend {
  itemId: number;
  brandId: number;
  /** What a workflow holds for a yes, where that is what is sent. */
  held: { runId: number; key: string } | null;
  text: string;
  /** The words that it answers. */
  was: string;
  /** It had an answer already when this was sent off, and gets another on purpose. */
  again: boolean;
  userId: number;
  dueAt: number;
}

interface SendRow {
  item_id: number;
  brand_id: number;
  run_id: number | null;
  effect_key: string | null;
  text: string;
  was: string;
  again: number;
  user_id: number;
  due_at: Date;
}

const readSend = (row: SendRow): DeskSend => ({
  itemId: row.item_id,
  brandId: row.brand_id,
  held: row.run_id !== null && row.effect_key !== null ? { runId: row.run_id, key: row.effect_key } : null,
  text: row.text,
  was: row.was,
  again: row.again === 1,
  userId: row.user_id,
  dueAt: fromTime(row.due_at),
});

/** Keeps an answer until it goes. Returns false where one is about to go already. */
export async function addDeskSend(db: Queryable, send: DeskSend): Promise<boolean> {
  const { rows } = await change(
    db,
    'INSERT IGNORE INTO desk_sends (item_id, brand_id, run_id, effect_key, text, was, again, user_id, due_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [
      send.itemId,
      send.brandId,
      send.held?.runId ?? null,
      send.held?.key ?? null,
      send.text,
      send.was,
      send.again,
      send.userId,
      toTime(send.dueAt),
    ],
  );
  return rows > 0;
}

/** Answers whose time has come, that nobody else is sending. Numbers of their entries. */
export async function dueSends(db: Queryable, now: number, most: number): Promise<number[]> {
  const rows = await select<{ item_id: number }>(
    db,
    'SELECT item_id FROM desk_sends WHERE due_at <= ? ORDER BY due_at LIMIT ?',
    [toTime(now), most],
  );
  return rows.map((row) => row.item_id);
}

/** Takes an answer out, locked: it goes now, or never. Undefined where somebody has been faster. */
export async function takeDeskSend(db: Queryable, itemId: number, brandId?: number): Promise<DeskSend | undefined> {
  const [row] = await select<SendRow>(
    db,
    `SELECT * FROM desk_sends WHERE item_id = ?${brandId === undefined ? '' : ' AND brand_id = ?'} FOR UPDATE`,
    brandId === undefined ? [itemId] : [itemId, brandId],
  );
  if (!row) return undefined;
  await change(db, 'DELETE FROM desk_sends WHERE item_id = ?', [itemId]);
  return readSend(row);
}

/** Answers that are about to go, by their entries. */
export async function sendsOf(db: Queryable, items: readonly number[]): Promise<Map<number, DeskSend>> {
  if (items.length === 0) return new Map();
  const rows = await select<SendRow>(db, 'SELECT * FROM desk_sends WHERE item_id IN (?)', [items]);
  return new Map(rows.map((row) => [row.item_id, readSend(row)]));
}
