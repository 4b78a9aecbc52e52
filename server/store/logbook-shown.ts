// The logbook as people read it: filtered, searched, in pages, newest first.
import type { PostOut } from '@playa/core/advice/tidy.ts';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import { fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';
import { searchFor } from './logbook-search.ts';

/** What of the logbook is wanted; what is left out is not asked. */
export interface LogbookAsked {
  /** Only these. */
  ids?: readonly number[] | undefined;
  /** Words, or beginnings of words, all of which it says. */
  words?: string | undefined;
  outletId?: number | undefined;
  workflowId?: number | undefined;
  actions?: readonly string[] | undefined;
  /** At outlets of these kinds. */
  kinds?: readonly OutletKind[] | undefined;
  /** At or after; milliseconds since 1970 UTC. */
  from?: number | undefined;
  /** Before. */
  to?: number | undefined;
  /** Only what was edited, or deleted, since it went out. */
  changed?: 'edited' | 'deleted' | undefined;
}

/** Something that went out, as the logbook shows it. */
export interface ShownEntry {
  id: number;
  key: string;
  action: string;
  at: number;
  workflowId: number;
  workflow: string;
  runId: number;
  itemId: number;
  outletId: number | null;
  outlet: string | null;
  text: string;
  card: string | null;
  url: string | null;
  /** The first picture or file that went with it. */
  media: { type: string; url: string; alt: string } | null;
  edited: boolean;
  deletedAt: number | null;
}

/** Entries, newest first, from behind a cursor. */
export async function logbookPage(
  db: Queryable,
  brandId: number,
  asked: LogbookAsked,
  after: { at: number; id: number } | undefined,
  most: number,
): Promise<ShownEntry[]> {
  const where: string[] = ['l.brand_id = ?'];
  const values: unknown[] = [brandId];
  const add = (sql: string, ...of: unknown[]) => {
    where.push(sql);
    values.push(...of);
  };
  if (asked.ids) add('l.id IN (?)', asked.ids);
  if (asked.words?.trim()) {
    const found = await searchFor(db, brandId, asked.words);
    for (const { sql, values: of } of found) add(sql, ...of);
    // Signs and emoji are no words.
    if (found.length === 0) add('l.text LIKE ?', `%${asked.words.trim().replace(/[\\%_]/g, '\\$&')}%`);
  }
  if (asked.outletId !== undefined) add('l.outlet_id = ?', asked.outletId);
  if (asked.workflowId !== undefined) add('l.workflow_id = ?', asked.workflowId);
  if (asked.actions?.length) add('l.action IN (?)', asked.actions);
  if (asked.kinds)
    add('l.outlet_id IN (SELECT id FROM outlets WHERE brand_id = ? AND kind IN (?))', brandId, asked.kinds);
  if (asked.from !== undefined) add('l.at >= ?', toTime(asked.from));
  if (asked.to !== undefined) add('l.at < ?', toTime(asked.to));
  if (asked.changed === 'deleted') add('l.deleted_at IS NOT NULL');
  if (asked.changed === 'edited') add(EDITED);
  if (after) add('(l.at < ? OR (l.at = ? AND l.id < ?))', toTime(after.at), toTime(after.at), after.id);
  const rows = await select<
    Omit<ShownEntry, 'at' | 'deletedAt' | 'edited' | 'media'> & {
      at: Date;
      deletedAt: Date | null;
      edited: number;
      media: string | null;
    }
  >(
    db,
    // The page first, then what belongs to its rows.
    `SELECT p.*, f.name AS workflow, r.item_id AS itemId, o.name AS outlet, JSON_EXTRACT(e.input, '$.media[0]') AS media,
       EXISTS (SELECT 1 FROM logbook_edits d WHERE d.logbook_id = p.id AND d.brand_id = ? AND d.status = 'made' AND d.deletes = 0) AS edited
     FROM (SELECT l.id, l.effect_key AS 'key', l.action, l.at, l.workflow_id AS workflowId, l.run_id AS runId,
         l.outlet_id AS outletId, l.text, l.card, l.url, l.deleted_at AS deletedAt
       FROM logbook l WHERE ${where.join(' AND ')} ORDER BY l.at DESC, l.id DESC LIMIT ?) p
     JOIN workflows f ON f.id = p.workflowId JOIN runs r ON r.id = p.runId
     LEFT JOIN outlets o ON o.id = p.outletId LEFT JOIN effects e ON e.effect_key = p.key`,
    [brandId, ...values, most],
  );
  // A join keeps no order, and sorting the page again costs the database more than it costs here.
  rows.sort((a, b) => b.at.getTime() - a.at.getTime() || b.id - a.id);
  return rows.map(({ at, deletedAt, edited, media, ...row }) => ({
    ...row,
    at: fromTime(at),
    deletedAt: fromTimeOrNull(deletedAt),
    edited: edited === 1,
    media: mediaOf(media),
  }));
}

const EDITED = `EXISTS (SELECT 1 FROM logbook_edits d WHERE d.logbook_id = l.id AND d.brand_id = l.brand_id AND d.status = 'made' AND d.deletes = 0)`;

function mediaOf(text: string | null): ShownEntry['media'] {
  if (text === null) return null;
  const { type, url, alt } = JSON.parse(text) as { type?: string; url?: string; alt?: string };
  return typeof url === 'string' ? { type: type ?? 'file', url, alt: alt ?? '' } : null;
}

/** A post that is out, with what is needed to tell whether it lacks something. */
export type PostToTidy = PostOut & { id: number; remote: boolean };

/**
 * Posts that are out, newest first, deleted ones left out.
 *
 * @param outlets the brand's, which say of which kind each is
 * @param since milliseconds since 1970 UTC
 * @param most so many of the newest are looked at
 */
export async function postsToTidy(
  db: Queryable,
  brandId: number,
  outlets: readonly { id: number; kind: OutletKind }[],
  since: number,
  most: number,
): Promise<PostToTidy[]> {
  const rows = await select<{
    id: number;
    key: string;
    outlet: number | null;
    at: Date;
    text: string;
    card: string | null;
    remote: string;
    title: string | null;
    media: string | null;
  }>(
    db,
    // The logbook first: begun with anything else, all of it would be sorted.
    `SELECT STRAIGHT_JOIN l.id, l.effect_key AS 'key', l.outlet_id AS outlet, l.at, l.text, l.card, l.remote_id AS remote,
       JSON_VALUE(e.input, '$.title') AS title, JSON_EXTRACT(e.input, '$.media') AS media
     FROM logbook l LEFT JOIN effects e ON e.effect_key = l.effect_key
     WHERE l.brand_id = ? AND l.action = 'publish' AND l.deleted_at IS NULL AND l.at >= ?
     ORDER BY l.at DESC, l.id DESC LIMIT ?`,
    [brandId, toTime(since), most],
  );
  const kinds = new Map(outlets.map(({ id, kind }) => [id, kind]));
  return rows.flatMap(({ outlet, at, media, remote, ...row }) => {
    const kind = outlet === null ? undefined : kinds.get(outlet);
    if (outlet === null || kind === undefined) return [];
    return [{ ...row, outlet, kind, at: fromTime(at), media: mediasOf(media), remote: remote !== '' }];
  });
}

function mediasOf(text: string | null): PostOut['media'] {
  if (text === null) return [];
  return (JSON.parse(text) as { type: string; alt?: string }[]).map(({ type, alt }) => ({ type, alt: alt ?? '' }));
}
