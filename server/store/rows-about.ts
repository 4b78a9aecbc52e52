// Rows of sheets that runs have written, for when the one they are about is to be forgotten.
import { change, select, type Queryable } from '../db/database.ts';

/** Every text in a value of JSON, put otherwise; all else stays as it is. */
export function inEveryText(value: unknown, put: (text: string) => string): unknown {
  if (typeof value === 'string') return put(value);
  if (Array.isArray(value)) return value.map((each) => inEveryText(each, put));
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([name, each]) => [name, inEveryText(each, put)]));
}

/** The rows that some runs have written, by sheet, also those deleted since. */
export async function rowsWrittenBy(db: Queryable, brandId: number, runs: readonly number[]) {
  const bySheet = new Map<number, number[]>();
  if (runs.length === 0) return bySheet;
  const rows = await select<{ row_id: number; sheet_id: number }>(
    db,
    `SELECT DISTINCT h.row_id, r.sheet_id FROM sheet_history h JOIN sheet_rows r ON r.id = h.row_id
     WHERE h.actor = 'run' AND h.actor_id IN (?) AND h.brand_id = ? ORDER BY r.sheet_id, h.row_id`,
    [runs, brandId],
  );
  for (const { row_id, sheet_id } of rows) bySheet.set(sheet_id, [...(bySheet.get(sheet_id) ?? []), row_id]);
  return bySheet;
}

/** Takes words out of everything that is remembered of some rows: what was done to them, and what runs about them did. */
export async function rewordRows(
  db: Queryable,
  watchId: number,
  rows: readonly number[],
  put: (text: string) => string,
): Promise<void> {
  if (rows.length === 0) return;
  await rewordJson(db, 'sheet_history', ['was', 'became'], 'row_id IN (?)', [rows], put);
  const items = (
    await select<{ id: number }>(db, 'SELECT id FROM items WHERE watch_id = ? AND identity IN (?)', [
      watchId,
      rows.map((row) => `row:${row}`),
    ])
  ).map(({ id }) => id);
  if (items.length === 0) return;
  await rewordJson(db, 'items', ['fields'], 'id IN (?)', [items], put);
  await change(db, 'DELETE FROM item_versions WHERE item_id IN (?)', [items]);
  const runs = (await select<{ id: number }>(db, 'SELECT id FROM runs WHERE item_id IN (?)', [items])).map(
    ({ id }) => id,
  );
  if (runs.length === 0) return;
  await rewordJson(db, 'runs', ['state', 'trace'], 'id IN (?)', [runs], put);
  await rewordJson(db, 'effects', ['input'], "run_id IN (?) AND status <> 'sending'", [runs], put);
  const said = await select<{ id: number; text: string | null }>(
    db,
    'SELECT id, text FROM logbook WHERE run_id IN (?)',
    [runs],
  );
  for (const { id, text } of said)
    if (text !== null && put(text) !== text)
      await change(db, 'UPDATE logbook SET text = ? WHERE id = ?', [put(text), id]);
}

/** JSON with its texts put otherwise. What cannot be read any more is put otherwise as it is, and holds back nothing else. */
function wordedJson(text: string, put: (text: string) => string): string {
  try {
    const value: unknown = JSON.parse(text);
    const worded = JSON.stringify(inEveryText(value, put));
    return worded === JSON.stringify(value) ? text : worded;
  } catch {
    return put(text);
  }
}

async function rewordJson(
  db: Queryable,
  table: 'sheet_history' | 'items' | 'runs' | 'effects',
  columns: readonly string[],
  where: string,
  values: unknown[],
  put: (text: string) => string,
): Promise<void> {
  const found = await select<{ id: number } & Record<string, string | number | null>>(
    db,
    `SELECT id, ${columns.join(', ')} FROM ${table} WHERE ${where}`,
    values,
  );
  for (const row of found)
    for (const column of columns) {
      const text = row[column];
      if (typeof text !== 'string') continue;
      const worded = wordedJson(text, put);
      if (worded !== text) await change(db, `UPDATE ${table} SET ${column} = ? WHERE id = ?`, [worded, row.id]);
    }
}
