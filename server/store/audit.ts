// Who did what: one row for each thing that was done, written in the transaction that did it.
import type { Actor } from '@playa/core/access/actor.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

/** What can be done to something. They stay as they are: rows are kept for years. */
export type Did =
  | 'said yes'
  | 'sent other words'
  | 'left out'
  | 'said it went out'
  | 'ended'
  | 'tried again'
  | 'cancelled'
  | 'ran again'
  | 'moved to the newest version'
  | 'went live'
  | 'paused'
  | 'let go on'
  | 'took'
  | 'edited'
  | 'pinned'
  | 'unpinned'
  | 'deleted'
  | 'restored'
  | 'made'
  | 'changed'
  | 'connected'
  | 'disconnected'
  | 'moved a post'
  | 'changed a timetable'
  | 'approved'
  | 'answered'
  | 'ignored'
  | 'assigned'
  | 'put off'
  | 'merged'
  | 'separated'
  | 'left alone'
  | 'sent a test'
  | 'took a test away'
  | 'has the desk listen'
  | 'has the desk listen no longer'
  | 'let go of the past'
  | 'put away'
  | 'kept in step'
  | 'left apart'
  | 'noted'
  | 'erased';

/** Something that was done. Secrets are never among `was` and `became`. */
export interface Deed {
  brandId: number;
  did: Did;
  about:
    | 'run'
    | 'workflow'
    | 'post'
    | 'snippet'
    | 'secret'
    | 'file'
    | 'account'
    | 'outlet'
    | 'sheet'
    | 'source'
    | 'written post'
    | 'desk'
    | 'contact'
    | 'brand';
  id?: number | undefined;
  name?: string | undefined;
  was?: string | null | undefined;
  became?: string | null | undefined;
}

/** UTF-16 code units of a value: what a post said is kept whole. */
const LONGEST = 16_000;

/** Writes down what was done, in the transaction that does it. */
export async function addAudit(db: Queryable, actor: Actor, deed: Deed, now: number): Promise<void> {
  const value = (text: string | null | undefined) => (text ? cutUnits(text, LONGEST) : null);
  await change(
    db,
    `INSERT INTO audit (brand_id, at, actor, actor_id, did, about, about_id, about_name, was, became)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      deed.brandId,
      toTime(now),
      actor.kind,
      actorId(actor),
      deed.did,
      deed.about,
      deed.id ?? null,
      deed.name === undefined ? null : cutUnits(deed.name, 200),
      value(deed.was),
      value(deed.became),
    ],
  );
}

/**
 * Writes down what goes on for a while, such as the typing of a draft: once, until somebody else does something to the
 * same thing or the while is over.
 *
 * @param within milliseconds
 */
export async function addAuditOnce(
  db: Queryable,
  actor: Actor,
  deed: Deed & { id: number },
  now: number,
  within: number,
): Promise<void> {
  const [last] = await select<{ at: Date; actor: string; by: number | null; did: string }>(
    db,
    `SELECT at, actor, actor_id AS \`by\`, did FROM audit WHERE brand_id = ? AND about = ? AND about_id = ?
     ORDER BY id DESC LIMIT 1`,
    [deed.brandId, deed.about, deed.id],
  );
  const goesOn = last?.did === deed.did && last.actor === actor.kind && last.by === actorId(actor);
  if (!goesOn || fromTime(last.at) <= now - within) await addAudit(db, actor, deed, now);
}

/** The number of whoever does something; null for Playa itself. */
export function actorId(actor: Actor): number | null {
  switch (actor.kind) {
    case 'person':
      return actor.userId;
    case 'run':
      return actor.runId;
    case 'token':
      return actor.tokenId;
    case 'system':
      return null;
  }
}

/** Something that was done, for showing. */
export interface Done {
  id: number;
  aboutId: number | null;
  /** Who did it, by name; null for Playa itself. */
  by: string | null;
  did: string;
  was: string | null;
  became: string | null;
  at: number;
}

/** What was done to some things of a sort, newest first. @param did only these deeds */
export async function auditOf(
  db: Queryable,
  brandId: number,
  about: Deed['about'],
  ids: readonly number[],
  { most = 500, did }: { most?: number; did?: readonly Did[] } = {},
): Promise<Done[]> {
  if (ids.length === 0) return [];
  const rows = await select<Omit<Done, 'at'> & { at: Date }>(
    db,
    `SELECT a.id, a.about_id AS aboutId, u.name AS 'by', a.did, a.was, a.became, a.at
     FROM audit a LEFT JOIN users u ON a.actor = 'person' AND u.id = a.actor_id
     WHERE a.brand_id = ? AND a.about = ? AND a.about_id IN (?)${did ? ' AND a.did IN (?)' : ''}
     ORDER BY a.id DESC LIMIT ?`,
    [brandId, about, ids, ...(did ? [did] : []), most],
  );
  return rows.map((row) => ({ ...row, at: fromTime(row.at) }));
}
