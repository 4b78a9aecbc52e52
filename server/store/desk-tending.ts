// What colleagues do with entries of the desk: put off, assign, keep a draft, have one open.
import { toTime, change, select, fromTimeOrNull, type Queryable } from '../db/database.ts';
import type { DeskState } from './desk.ts';

/** What can be changed of an entry by hand. */
export interface Tending {
  state?: DeskState;
  assignedTo?: number | null;
  snoozedUntil?: number | null;
  draft?: string | null;
  trouble?: string | null;
  answerItem?: number;
}

const COLUMNS = {
  state: 'state',
  assignedTo: 'assigned_to',
  snoozedUntil: 'snoozed_until',
  draft: 'draft',
  trouble: 'trouble',
  answerItem: 'answer_item',
} as const satisfies Record<keyof Tending, string>;
/** Changes entries of a brand. */
export async function tendEntries(
  db: Queryable,
  brandId: number,
  items: readonly number[],
  tending: Tending,
): Promise<void> {
  const wanted = (Object.keys(COLUMNS) as (keyof Tending)[]).filter((name) => tending[name] !== undefined);
  if (items.length === 0 || wanted.length === 0) return;
  const values = wanted.map((name) => {
    const value = tending[name]!;
    return name === 'snoozedUntil' && value !== null ? toTime(Number(value)) : value;
  });
  await change(
    db,
    `UPDATE desk_entries SET ${wanted.map((name) => `${COLUMNS[name]} = ?`).join(', ')} WHERE brand_id = ? AND item_id IN (?)`,
    [...values, brandId, items],
  );
}

/**
 * Has an entry open in somebody's name, so that two people do not answer the same one.
 *
 * @param over also when somebody else has it open
 * @returns who has it open now
 */
export async function openEntry(
  db: Queryable,
  brandId: number,
  itemId: number,
  { userId, now, until, over }: { userId: number; now: number; until: number; over: boolean },
): Promise<number | null> {
  await change(
    db,
    `UPDATE desk_entries SET opened_by = ?, opened_until = ? WHERE brand_id = ? AND item_id = ?
       AND (? OR opened_by IS NULL OR opened_by = ? OR opened_until < ?)`,
    [userId, toTime(until), brandId, itemId, over, userId, toTime(now)],
  );
  const [row] = await select<{ by: number | null }>(
    db,
    'SELECT opened_by AS `by` FROM desk_entries WHERE brand_id = ? AND item_id = ?',
    [brandId, itemId],
  );
  return row?.by ?? null;
}

/** Closes what somebody has open. */
export async function closeEntry(db: Queryable, brandId: number, itemId: number, userId: number): Promise<void> {
  await change(
    db,
    'UPDATE desk_entries SET opened_by = NULL, opened_until = NULL WHERE brand_id = ? AND item_id = ? AND opened_by = ?',
    [brandId, itemId, userId],
  );
}

/** When an entry was last opened, and by whom; null when nobody has it open. */
export const openedNow = (row: { opened_by: number | null; opened_until: Date | null }, now: number): number | null =>
  row.opened_by !== null && (fromTimeOrNull(row.opened_until) ?? 0) > now ? row.opened_by : null;
