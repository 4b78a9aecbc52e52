// Who did what at a brand, newest first, for whoever reads it.
import { fromTime, select, toTime, type Queryable } from '../db/database.ts';
import type { Deed, Did } from './audit.ts';

/** What deeds can be about, as they are stored. */
export const ABOUTS = [
  'run',
  'workflow',
  'post',
  'written post',
  'desk',
  'contact',
  'sheet',
  'source',
  'account',
  'outlet',
  'snippet',
  'secret',
  'file',
  'brand',
] as const satisfies readonly Deed['about'][];

export interface AuditFilter {
  about?: Deed['about'] | undefined;
  /** A person's number, `workflows` for runs, or `playa` for what Playa did by itself. */
  by?: number | 'workflows' | 'playa' | undefined;
  /** From and before these moments, milliseconds since 1970 UTC. */
  from?: number | undefined;
  to?: number | undefined;
}

/** Something that was done. */
export interface AuditEntry {
  id: number;
  at: number;
  /** A person's name, or that of the workflow whose run did it; null for Playa itself. */
  by: string | null;
  /** Whether a person did it. */
  byUser: boolean;
  did: Did;
  about: Deed['about'];
  aboutId: number | null;
  /** What it is called; null where it has no name of its own. */
  name: string | null;
  /** The workflow, where it was done to one or to a run of it. */
  workflowId: number | null;
  was: string | null;
  became: string | null;
}

const ACTORS = { workflows: 'run', playa: 'system' } as const;

/**
 * What was done, the newest first.
 *
 * @param before the number of an entry; those before it are given
 */
export async function auditPage(
  db: Queryable,
  brandId: number,
  { about, by, from, to }: AuditFilter,
  before: number | undefined,
  most: number,
): Promise<AuditEntry[]> {
  const where: [string, ...unknown[]][] = [['a.brand_id = ?', brandId]];
  if (before !== undefined) where.push(['a.id < ?', before]);
  if (about !== undefined) where.push(['a.about = ?', about]);
  if (typeof by === 'number') where.push(["a.actor = 'person' AND a.actor_id = ?", by]);
  else if (by !== undefined) where.push(['a.actor = ?', ACTORS[by]]);
  if (from !== undefined) where.push(['a.at >= ?', toTime(from)]);
  if (to !== undefined) where.push(['a.at < ?', toTime(to)]);
  const rows = await select<Omit<AuditEntry, 'at' | 'byUser'> & { at: Date; actor: string }>(
    db,
    `SELECT a.id, a.at, a.actor, COALESCE(u.name, bw.name) AS 'by', a.did, a.about, a.about_id AS aboutId,
       COALESCE(a.about_name, w.name, rw.name, s.name, o.name, c.name) AS name,
       COALESCE(w.id, rw.id) AS workflowId, a.was, a.became
     FROM audit a
     LEFT JOIN users u ON a.actor = 'person' AND u.id = a.actor_id
     LEFT JOIN runs br ON a.actor = 'run' AND br.id = a.actor_id
     LEFT JOIN workflows bw ON bw.id = br.workflow_id
     LEFT JOIN workflows w ON a.about = 'workflow' AND w.id = a.about_id
     LEFT JOIN runs r ON a.about = 'run' AND r.id = a.about_id
     LEFT JOIN workflows rw ON rw.id = r.workflow_id
     LEFT JOIN sheets s ON a.about = 'sheet' AND s.id = a.about_id
     LEFT JOIN outlets o ON a.about = 'outlet' AND o.id = a.about_id
     LEFT JOIN accounts c ON a.about = 'account' AND c.id = a.about_id
     WHERE ${where.map(([sql]) => sql).join(' AND ')} ORDER BY a.id DESC LIMIT ?`,
    [...where.flatMap(([, ...values]) => values), most],
  );
  return rows.map(({ actor, at, ...row }) => ({ ...row, at: fromTime(at), byUser: actor === 'person' }));
}
