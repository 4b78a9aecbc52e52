// The logbook as people read it: filtered, searched, in pages, newest first.
import type { PostOut } from '@playa/core/advice/tidy.ts';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import { fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

/** What of the logbook is wanted; what is left out is not asked. */
export interface LogbookAsked {
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

/**
 * A search in the words of one brand (migration 014).
 *
 * @returns null when there is nothing in it that could be looked for
 * @example wordSearch(7, 'Cold wat') // "+b7_cold* +b7_wat*"
 */
export function wordSearch(brandId: number, words: string): string | null {
  const each = words.match(/[\p{L}\p{N}]+/gu) ?? [];
  if (each.length === 0) return null;
  return each
    .slice(0, 12)
    .map((word) => `+b${brandId}_${[...word].slice(0, 60).join('')}*`)
    .join(' ');
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
  if (asked.words?.trim()) {
    const search = wordSearch(brandId, asked.words);
    if (search) add('MATCH (l.words) AGAINST (? IN BOOLEAN MODE)', search);
    // Signs and emoji are no words.
    else add('l.text LIKE ?', `%${asked.words.trim().replace(/[\\%_]/g, '\\$&')}%`);
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

/**
 * Posts that are out, newest first, with what is needed to tell whether they lack something.
 *
 * @param since milliseconds since 1970 UTC
 */
export async function postsToTidy(
  db: Queryable,
  brandId: number,
  since: number,
  most: number,
): Promise<{ entry: ShownEntry; post: PostOut & { remote: boolean } }[]> {
  const entries = await logbookPage(db, brandId, { actions: ['publish'], from: since }, undefined, most);
  const here = entries.filter((entry) => entry.deletedAt === null && entry.outletId !== null);
  if (here.length === 0) return [];
  const rows = await select<{
    key: string;
    kind: OutletKind;
    title: string | null;
    media: string | null;
    remote: string;
  }>(
    db,
    `SELECT l.effect_key AS 'key', o.kind, JSON_VALUE(e.input, '$.title') AS title, JSON_EXTRACT(e.input, '$.media') AS media,
       l.remote_id AS remote
     FROM logbook l JOIN outlets o ON o.id = l.outlet_id LEFT JOIN effects e ON e.effect_key = l.effect_key
     WHERE l.brand_id = ? AND l.id IN (?)`,
    [brandId, here.map((entry) => entry.id)],
  );
  const known = new Map(rows.map((row) => [row.key, row]));
  return here.flatMap((entry) => {
    const more = known.get(entry.key);
    if (!more) return [];
    const media = (more.media === null ? [] : JSON.parse(more.media)) as { type: string; alt?: string }[];
    return [
      {
        entry,
        post: {
          key: entry.key,
          outlet: entry.outletId!,
          kind: more.kind,
          at: entry.at,
          text: entry.text,
          title: more.title,
          card: entry.card,
          media: media.map(({ type, alt }) => ({ type, alt: alt ?? '' })),
          remote: more.remote !== '',
        },
      },
    ];
  });
}
