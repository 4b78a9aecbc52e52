// Posts that people write by hand.
import { createHash } from 'node:crypto';
import {
  approvedPart,
  LONGEST_APART,
  postMoments,
  writtenPostSchema,
  type WrittenPost,
} from '@playa/core/posts/written.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

export const POST_STATES = ['idea', 'draft', 'ready'] as const;
export type PostState = (typeof POST_STATES)[number];

export interface KeptPost {
  id: number;
  brandId: number;
  state: PostState;
  post: WrittenPost;
  /** The first moment at which it goes somewhere, milliseconds since 1970 UTC; null where it has none of its own. */
  firstAt: number | null;
  revision: number;
  /** What it is to the engine, once it has been ready. */
  itemId: number | null;
  /** The yes that somebody gave, and whether it is to what it says now. */
  approval: { by: number; at: number; holds: boolean } | null;
  madeBy: number | null;
  wordedBy: number | null;
  changedAt: number;
  deleted: boolean;
}

interface Row {
  id: number;
  brand_id: number;
  state: PostState;
  post: string;
  first_at: Date | null;
  revision: number;
  item_id: number | null;
  approved: Buffer | null;
  approved_by: number | null;
  approved_at: Date | null;
  made_by: number | null;
  worded_by: number | null;
  changed_at: Date;
  deleted_at: Date | null;
}

/** What a yes is kept as: the same for the same words at the same places. */
const hashOf = (post: WrittenPost): Buffer => createHash('sha256').update(approvedPart(post)).digest();

function read(row: Row): KeptPost {
  const post = writtenPostSchema.parse(JSON.parse(row.post));
  return {
    id: row.id,
    brandId: row.brand_id,
    state: row.state,
    post,
    firstAt: fromTimeOrNull(row.first_at),
    revision: row.revision,
    itemId: row.item_id,
    approval:
      row.approved && row.approved_by !== null && row.approved_at
        ? { by: row.approved_by, at: fromTime(row.approved_at), holds: row.approved.equals(hashOf(post)) }
        : null,
    madeBy: row.made_by,
    wordedBy: row.worded_by,
    changedAt: fromTime(row.changed_at),
    deleted: row.deleted_at !== null,
  };
}

/** One that cannot be read keeps no other from being shown. */
function readEach(rows: readonly Row[]): KeptPost[] {
  return rows.flatMap((row) => {
    try {
      return [read(row)];
    } catch {
      return [];
    }
  });
}

/** Of a brand's wall clock. */
type Clock = Parameters<typeof postMoments>[1];

function span(post: WrittenPost, clock: Clock): [Date | null, Date | null] {
  const moments = [...postMoments(post, clock).values()].flatMap((at) => at ?? []);
  return moments.length ? [toTime(Math.min(...moments)), toTime(Math.max(...moments))] : [null, null];
}

export async function addWrittenPost(
  db: Queryable,
  written: { brandId: number; state: PostState; post: WrittenPost; by: number | null },
  clock: Clock,
  now: number,
): Promise<number> {
  const { brandId, state, post, by } = written;
  const time = toTime(now);
  const [first, last] = span(post, clock);
  const { id } = await change(
    db,
    `INSERT INTO written_posts (brand_id, state, post, first_at, last_at, made_by, worded_by, created_at, changed_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [brandId, state, JSON.stringify(post), first, last, by, by, time, time],
  );
  return id;
}

/** Stores a post's state and words, and counts its revision on. @param by whose words they are */
export async function reviseWrittenPost(
  db: Queryable,
  { id, brandId, state, post }: Pick<KeptPost, 'id' | 'brandId' | 'state' | 'post'>,
  by: number | null,
  clock: Clock,
  now: number,
): Promise<void> {
  await change(
    db,
    `UPDATE written_posts SET state = ?, post = ?, first_at = ?, last_at = ?, worded_by = ?, revision = revision + 1, changed_at = ?
     WHERE id = ? AND brand_id = ?`,
    [state, JSON.stringify(post), ...span(post, clock), by, toTime(now), id, brandId],
  );
}

export async function writtenPostBy(
  db: Queryable,
  brandId: number,
  id: number,
  lock = false,
): Promise<KeptPost | undefined> {
  const rows = await select<Row>(
    db,
    `SELECT * FROM written_posts WHERE id = ? AND brand_id = ? AND deleted_at IS NULL${lock ? ' FOR UPDATE' : ''}`,
    [id, brandId],
  );
  return rows.map(read)[0];
}

/** Posts by the items they are to the engine. */
export async function writtenByItem(
  db: Queryable,
  brandId: number,
  items: readonly number[],
): Promise<Map<number, number>> {
  if (items.length === 0) return new Map();
  const rows = await select<{ item: number; id: number }>(
    db,
    'SELECT item_id AS item, id FROM written_posts WHERE brand_id = ? AND item_id IN (?)',
    [brandId, items],
  );
  return new Map(rows.map(({ item, id }) => [item, id]));
}

/** The post that an item is, locked. */
export async function lockWrittenOfItem(db: Queryable, brandId: number, item: number): Promise<KeptPost | undefined> {
  const rows = await select<Row>(
    db,
    'SELECT * FROM written_posts WHERE item_id = ? AND brand_id = ? AND deleted_at IS NULL FOR UPDATE',
    [item, brandId],
  );
  return rows.map(read)[0];
}

/** Posts with a moment within a span of time. */
export async function writtenBetween(
  db: Queryable,
  brandId: number,
  { from, to }: { from: number; to: number },
  most: number,
): Promise<KeptPost[]> {
  return readEach(
    await select<Row>(
      db,
      `SELECT * FROM written_posts WHERE brand_id = ? AND last_at >= ? AND last_at < ? AND first_at < ? AND deleted_at IS NULL
       ORDER BY last_at LIMIT ?`,
      [brandId, toTime(from), toTime(to + LONGEST_APART), toTime(to), most],
    ),
  );
}

/** Posts that are ready and not over, first ones first. @param lock nobody changes them meanwhile */
export async function readyPosts(db: Queryable, brandId: number, lock = false, most = 5000): Promise<KeptPost[]> {
  return readEach(
    await select<Row>(
      db,
      `SELECT * FROM written_posts WHERE brand_id = ? AND state = 'ready' AND deleted_at IS NULL
         AND (item_id IS NULL OR EXISTS (SELECT 1 FROM runs r WHERE r.item_id = written_posts.item_id AND r.status NOT IN ('done', 'cancelled')))
       ORDER BY first_at, id LIMIT ?${lock ? ' FOR UPDATE' : ''}`,
      [brandId, most],
    ),
  );
}

/** Posts that have no moment of their own and have not been let go, those changed last first. */
export async function writtenWithoutTime(db: Queryable, brandId: number, most: number): Promise<KeptPost[]> {
  return readEach(
    await select<Row>(
      db,
      `SELECT * FROM written_posts WHERE brand_id = ? AND first_at IS NULL AND deleted_at IS NULL
       ORDER BY changed_at DESC, id DESC LIMIT ?`,
      [brandId, most],
    ),
  );
}

export async function setWrittenItem(db: Queryable, id: number, itemId: number): Promise<void> {
  await change(db, 'UPDATE written_posts SET item_id = ? WHERE id = ?', [itemId, id]);
}

/** Somebody says yes to what a post says now. */
export async function approveWritten(
  db: Queryable,
  { id, brandId, post }: Pick<KeptPost, 'id' | 'brandId' | 'post'>,
  by: number,
  now: number,
): Promise<void> {
  await change(
    db,
    'UPDATE written_posts SET approved = ?, approved_by = ?, approved_at = ?, revision = revision + 1 WHERE id = ? AND brand_id = ?',
    [hashOf(post), by, toTime(now), id, brandId],
  );
}

/** The yes to a post no longer counts: what it would say has changed without it. */
export async function dropApproval(db: Queryable, { id, brandId }: Pick<KeptPost, 'id' | 'brandId'>): Promise<void> {
  await change(
    db,
    'UPDATE written_posts SET approved = NULL, approved_by = NULL, approved_at = NULL, revision = revision + 1 WHERE id = ? AND brand_id = ?',
    [id, brandId],
  );
}

export async function setWrittenDeleted(db: Queryable, brandId: number, id: number, now: number): Promise<void> {
  await change(db, 'UPDATE written_posts SET deleted_at = ?, revision = revision + 1 WHERE id = ? AND brand_id = ?', [
    toTime(now),
    id,
    brandId,
  ]);
}

export type ApprovedBy = 'nobody' | 'anybody' | 'another';

/** Who has to say yes to a brand's posts. */
export async function approvedBy(db: Queryable, brandId: number): Promise<ApprovedBy> {
  const [row] = await select<{ by: ApprovedBy }>(db, 'SELECT posts_approved_by AS `by` FROM brands WHERE id = ?', [
    brandId,
  ]);
  return row?.by ?? 'nobody';
}

export async function setApprovedBy(db: Queryable, brandId: number, by: ApprovedBy): Promise<void> {
  await change(db, 'UPDATE brands SET posts_approved_by = ? WHERE id = ?', [by, brandId]);
}
