// What people wrote to a brand, and where it stands at the desk.
import type { DeskKind, Entry } from '@playa/core/desk/entry.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

/** open: waits for an answer; old: was there before Playa looked, and is left alone unless somebody takes it up. */
export const DESK_STATES = ['open', 'answered', 'ignored', 'gone', 'old'] as const;
export type DeskState = (typeof DESK_STATES)[number];
/** A workflow, a person at the desk, or somebody at the network itself. */
export type AnsweredBy = 'workflow' | 'user' | 'there';

/** An entry as what is done to it needs to know it. */
export interface DeskEntry {
  itemId: number;
  brandId: number;
  outletId: number | null;
  kind: DeskKind;
  contactId: number | null;
  answersTo: string;
  state: DeskState;
  saidAt: number;
  answerItem: number | null;
  answeredBy: AnsweredBy | null;
  answeredAt: number | null;
}

interface Row {
  item_id: number;
  brand_id: number;
  outlet_id: number | null;
  kind: DeskKind;
  contact_id: number | null;
  answers_to: string;
  state: DeskState;
  said_at: Date;
  answer_item: number | null;
  answered_by: AnsweredBy | null;
  answered_at: Date | null;
}

const read = (row: Row): DeskEntry => ({
  itemId: row.item_id,
  brandId: row.brand_id,
  outletId: row.outlet_id,
  kind: row.kind,
  contactId: row.contact_id,
  answersTo: row.answers_to,
  state: row.state,
  saidAt: fromTime(row.said_at),
  answerItem: row.answer_item,
  answeredBy: row.answered_by,
  answeredAt: fromTimeOrNull(row.answered_at),
});

/** Longer identifiers are kept by their beginning. UTF-16 code units. */
const LONGEST_ID = 500;

const telling = (entry: Entry) => [entry.stars, entry.form, entry.language, entry.tone, entry.question];

/** Puts something that somebody wrote on the desk; what is there already stays as it is. */
export async function addDeskEntry(
  db: Queryable,
  of: { itemId: number; brandId: number; outletId: number | null; contactId: number | null },
  entry: Entry,
  state: DeskState,
  saidAt: number,
): Promise<void> {
  const there = state === 'answered' ? 'there' : null;
  await change(
    db,
    `INSERT IGNORE INTO desk_entries (item_id, brand_id, outlet_id, kind, contact_id, answers_to, said_at, stars, form, language, tone, question, state, answered_by, answered_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      of.itemId,
      of.brandId,
      of.outletId,
      entry.kind,
      of.contactId,
      cutUnits(entry.to, LONGEST_ID),
      toTime(saidAt),
      ...telling(entry),
      state,
      there,
      there === null || entry.answeredAt === null ? null : toTime(entry.answeredAt),
    ],
  );
}

/** What an entry says now: it was edited. */
export async function reviseDeskEntry(db: Queryable, itemId: number, entry: Entry): Promise<void> {
  await change(
    db,
    'UPDATE desk_entries SET stars = ?, form = ?, language = ?, tone = ?, question = ? WHERE item_id = ?',
    [...telling(entry), itemId],
  );
}

/** Notes that somebody answered at the network itself. Returns whether that is news. */
export async function noteAnsweredThere(db: Queryable, itemId: number, now: number): Promise<boolean> {
  const noted = await change(
    db,
    `UPDATE desk_entries SET state = 'answered', answered_by = 'there', answered_at = ? WHERE item_id = ? AND state IN ('open', 'old')`,
    [toTime(now), itemId],
  );
  return noted.rows > 0;
}

/** Notes that an entry is no longer at its network, or is again. */
export async function noteDeskGone(db: Queryable, itemId: number, gone: boolean): Promise<void> {
  await change(db, 'UPDATE desk_entries SET state = ? WHERE item_id = ? AND state = ?', [
    gone ? 'gone' : 'open',
    itemId,
    gone ? 'open' : 'gone',
  ]);
}

/** An answer that has gone out. */
export interface Answered {
  brandId: number;
  outletId: number | null;
  /** The item of the run that sent it. */
  itemId: number;
  act: 'reply' | 'message';
  to: string;
  text: string;
  by: 'workflow' | 'user';
  at: number;
}

/** Notes an answer that has gone out at all it answers: a message answers all that this person wrote before it. */
export async function noteAnswer(db: Queryable, { brandId, outletId, itemId, act, to, text, by, at }: Answered) {
  const kind = act === 'message' ? "kind = 'message'" : "kind <> 'message'";
  await change(
    db,
    `UPDATE desk_entries SET state = 'answered', answered_at = ?, answer = ?, draft = NULL, trouble = NULL,
       answered_by = IF(? = 'user' OR answered_user IS NOT NULL, 'user', 'workflow')
     WHERE brand_id = ? AND said_at <= ?
       AND (state IN ('open', 'old') OR (answered_by = 'there' AND answer IS NULL AND answered_at BETWEEN ? AND ?))
       AND (item_id = ? OR (outlet_id <=> ? AND answers_to = ? AND ${kind}))`,
    [
      toTime(at),
      cutUnits(text, 16_000),
      by,
      brandId,
      toTime(at + CLOCKS_APART),
      // The network may have shown this very answer before it was written down here.
      toTime(at - CLOCKS_APART),
      toTime(at + CLOCKS_APART),
      itemId,
      outletId,
      to,
    ],
  );
}
/** Clocks of networks are not quite ours, milliseconds. */
const CLOCKS_APART = 60_000;

/** What was answered last at a place, newest first, with whom it greeted. */
export async function lastAnswers(
  db: Queryable,
  outletId: number,
  most: number,
): Promise<{ text: string; name: string }[]> {
  return select(
    db,
    `SELECT d.answer AS text, COALESCE(p.name, '') AS name
     FROM desk_entries d LEFT JOIN contacts p ON p.id = d.contact_id
     WHERE d.outlet_id = ? AND d.answered_at IS NOT NULL AND d.answer IS NOT NULL ORDER BY d.answered_at DESC LIMIT ?`,
    [outletId, most],
  );
}

/** Entries of a brand, locked in the order of their numbers. */
export async function lockDeskEntries(db: Queryable, brandId: number, items: readonly number[]): Promise<DeskEntry[]> {
  if (items.length === 0) return [];
  return (
    await select<Row>(
      db,
      'SELECT * FROM desk_entries WHERE brand_id = ? AND item_id IN (?) ORDER BY item_id FOR UPDATE',
      [brandId, items],
    )
  ).map(read);
}

/** An entry of a brand as it stands. */
export async function deskEntry(db: Queryable, brandId: number, itemId: number): Promise<DeskEntry | undefined> {
  return (
    await select<Row>(db, 'SELECT * FROM desk_entries WHERE brand_id = ? AND item_id = ?', [brandId, itemId])
  ).map(read)[0];
}

/** Notes that what was to be answered is not there any more. */
export async function noteGoneThere(
  db: Queryable,
  { brandId, outletId, to }: { brandId: number; outletId: number | null; to: string },
): Promise<void> {
  await change(
    db,
    "UPDATE desk_entries SET state = 'gone' WHERE brand_id = ? AND outlet_id <=> ? AND answers_to = ? AND kind <> 'message' AND state IN ('open', 'old')",
    [brandId, outletId, to],
  );
}

/** Who decided what is sent: it counts as answered by a person. */
export async function noteDecidedBy(db: Queryable, itemId: number, userId: number): Promise<void> {
  await change(db, "UPDATE desk_entries SET answered_user = ? WHERE item_id = ? AND state IN ('open', 'old')", [
    userId,
    itemId,
  ]);
}

/** The runs about an entry that are under way, also those of answers to it that were written by hand. */
export async function openRunsAbout(
  db: Queryable,
  brandId: number,
  { itemId, answerItem }: Pick<DeskEntry, 'itemId' | 'answerItem'>,
): Promise<number[]> {
  const rows = await select<{ id: number }>(
    db,
    `SELECT id FROM runs WHERE brand_id = ? AND item_id IN (?) AND status IN ('new', 'waiting', 'held') ORDER BY id`,
    [brandId, [itemId, ...(answerItem === null ? [] : [answerItem])]],
  );
  return rows.map((row) => row.id);
}

/**
 * Whether an answer to an entry is being sent, or may have arrived and is looked for: whoever asks has taken back all that
 * certainly was not sent. Runs that have ended count: what was on its way then arrives all the same.
 */
export async function isBeingAnswered(
  db: Queryable,
  brandId: number,
  { itemId, answerItem }: Pick<DeskEntry, 'itemId' | 'answerItem'>,
): Promise<boolean> {
  const rows = await select(
    db,
    `SELECT 1 FROM runs r JOIN effects e ON e.run_id = r.id
     WHERE r.brand_id = ? AND r.item_id IN (?) AND e.action IN ('reply', 'message')
       AND (e.status = 'sending' OR (e.status IN ('planned', 'account') AND e.unsure = 1)) LIMIT 1`,
    [brandId, [itemId, ...(answerItem === null ? [] : [answerItem])]],
  );
  return rows.length > 0;
}

/** How many answers somebody has written by hand to a thing. */
export async function countAnswers(db: Queryable, watchId: number, itemId: number): Promise<number> {
  const [row] = await select<{ n: number }>(
    db,
    'SELECT COUNT(*) AS n FROM items WHERE watch_id = ? AND identity LIKE ?',
    [watchId, `answer:${itemId}:%`],
  );
  return Number(row!.n);
}
