// What Playa itself has published or written, so that it is known again when it appears at a source.
import { createHash } from 'node:crypto';
import type { FieldValue, Item } from '@playa/core/items/item.ts';
import { change, select, toTime, type Queryable } from '../db/database.ts';

/** Something that was made, or a row that was brought up to date. */
export interface OwnThing {
  brandId: number;
  workflowId: number;
  outletId: number | null;
  remoteId: string;
  url: string | null;
  /** What was written into a row, by column. */
  wrote: Record<string, string> | null;
}

const hashOf = (about: string) => createHash('sha256').update(about).digest();
const byId = (outletId: number, remoteId: string) => hashOf(`${outletId}\n${remoteId}`);
const byUrl = (url: string) => hashOf(url.replace(/[#?].*$/, '').replace(/\/$/, ''));

/** Writes down what Playa has made. */
export async function addOwnThings(db: Queryable, things: readonly OwnThing[], now: number): Promise<void> {
  const rows = things.flatMap(({ brandId, workflowId, outletId, remoteId, url, wrote }) => {
    const written = wrote && JSON.stringify(wrote);
    return [
      ...(outletId !== null && remoteId !== ''
        ? [[brandId, byId(outletId, remoteId), written, workflowId, toTime(now)]]
        : []),
      // The page of a table is that of all its rows.
      ...(url !== null && wrote === null ? [[brandId, byUrl(url), null, workflowId, toTime(now)]] : []),
    ];
  });
  if (rows.length === 0) return;
  await change(
    db,
    'INSERT INTO own_things (brand_id, about_hash, wrote, workflow_id, at) VALUES ? ON DUPLICATE KEY UPDATE wrote = VALUES(wrote), workflow_id = VALUES(workflow_id), at = VALUES(at)',
    [rows],
  );
}

/** Puts otherwise what is known to have been written into some rows of an outlet. */
export async function rewordOwnRows(
  db: Queryable,
  brandId: number,
  outletId: number,
  rows: readonly number[],
  put: (text: string) => string,
): Promise<void> {
  for (const row of rows) {
    const about = byId(outletId, String(row));
    const where = 'brand_id = ? AND about_hash = ? AND wrote IS NOT NULL';
    const found = await select<{ wrote: string }>(db, `SELECT wrote FROM own_things WHERE ${where}`, [brandId, about]);
    for (const { wrote } of found) {
      const cells = Object.entries(JSON.parse(wrote) as Record<string, string>);
      const worded = JSON.stringify(Object.fromEntries(cells.map(([column, text]) => [column, put(text)])));
      await change(db, `UPDATE own_things SET wrote = ? WHERE ${where}`, [worded, brandId, about]);
    }
  }
}

/** What is known of an item that Playa itself has made. */
export interface Own {
  /** What was last written into a row, by column. */
  wrote: Record<string, string> | null;
  workflowId: number | null;
}

/**
 * Whether something of Playa's own is news to a workflow all the same: a row that another workflow has written is, a post
 * is not, so that nothing goes round.
 */
export const isNewsTo = (own: Own, workflowId: number): boolean => own.wrote !== null && own.workflowId !== workflowId;

/**
 * Of some items those that Playa itself has made, by identity.
 *
 * @param outletId where they were seen; null for a feed, whose items are known by their link alone
 */
export async function ownAmong(
  db: Queryable,
  brandId: number,
  outletId: number | null,
  items: readonly Pick<Item, 'identity' | 'fields'>[],
): Promise<Map<string, Own>> {
  const asked = items.flatMap(({ identity, fields: { id, link, person } }) => {
    const text = textOf(id);
    return [
      ...(outletId !== null && text !== '' ? [{ identity, hash: byId(outletId, text) }] : []),
      // What somebody else wrote has the page of the post that it stands under.
      ...(typeof link === 'string' && link !== '' && !isRecord(person) ? [{ identity, hash: byUrl(link) }] : []),
    ];
  });
  if (asked.length === 0) return new Map();
  const rows = await select<{ about_hash: Buffer; wrote: string | null; workflow_id: number | null }>(
    db,
    'SELECT about_hash, wrote, workflow_id FROM own_things WHERE brand_id = ? AND about_hash IN (?)',
    [brandId, asked.map(({ hash }) => hash)],
  );
  const found = new Map(rows.map((row) => [row.about_hash.toString('hex'), row]));
  const own = new Map<string, Own>();
  for (const { identity, hash } of asked) {
    const row = found.get(hash.toString('hex'));
    if (!row || own.has(identity)) continue;
    const wrote = row.wrote === null ? null : (JSON.parse(row.wrote) as Record<string, string>);
    own.set(identity, { wrote, workflowId: row.workflow_id });
  }
  return own;
}

const isRecord = (value: FieldValue | undefined) => value !== null && typeof value === 'object';

const textOf = (value: FieldValue | undefined): string =>
  typeof value === 'string' ? value : typeof value === 'number' ? String(value) : '';

/** Whether something is being published at an outlet at this moment: what appears there may be that. */
export async function isPublishing(db: Queryable, brandId: number, outletId: number, now: number): Promise<boolean> {
  const rows = await select(
    db,
    "SELECT 1 FROM effects WHERE brand_id = ? AND outlet_id = ? AND status = 'sending' AND due_at > ? LIMIT 1",
    [brandId, outletId, toTime(now)],
  );
  return rows.length > 0;
}
