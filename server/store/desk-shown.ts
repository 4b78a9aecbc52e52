// The desk as screens show it: a page of entries with what we would answer, counts, a person's conversation.
import { ANSWERED_BY, entryOf, type DeskKind, type Entry } from '@playa/core/desk/entry.ts';
import { fieldsSchema } from '@playa/core/items/item.ts';
import type { Tone } from '@playa/core/said/tone.ts';
import { fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';
import { labelsByContact } from './contacts-shown.ts';
import type { AnsweredBy, DeskState } from './desk.ts';
import { openedNow } from './desk-tending.ts';
import { sendsOf, type DeskSend } from './desk-sends.ts';
import { heldAnswers, answersOnTheirWay, type Proposed } from './desk-besides.ts';

/** Which part of the desk is looked at. */
export const DESK_SHELVES = ['open', 'later', 'answered', 'left'] as const;
export type DeskShelf = (typeof DESK_SHELVES)[number];

/** How a page is asked for. */
export interface DeskAsked {
  shelf: DeskShelf;
  kind?: DeskKind | undefined;
  outletId?: number | undefined;
  stars?: number | undefined;
  tone?: Tone | undefined;
  language?: string | undefined;
  label?: string | undefined;
  assignedTo?: number | undefined;
  words?: string | undefined;
  /** atRisk: few stars, cross words and questions come first. */
  order: 'oldest' | 'newest' | 'atRisk';
}

/** Where a list goes on. */
export interface DeskCursor {
  risk: number;
  at: number;
  id: number;
}

/** An entry as the desk shows it. */
export interface ShownEntry extends Entry {
  itemId: number;
  state: DeskState;
  saidAt: number;
  contactId: number | null;
  leftAlone: boolean;
  labels: string[];
  outletId: number | null;
  answer: { text: string; by: AnsweredBy; user: number | null; at: number } | null;
  draft: string | null;
  trouble: string | null;
  assignedTo: number | null;
  snoozedUntil: number | null;
  openedBy: number | null;
  held: Proposed | null;
  coming: Proposed | null;
  sending: DeskSend | null;
  risk: number;
}

interface Row {
  item_id: number;
  outlet_id: number | null;
  kind: DeskKind;
  contact_id: number | null;
  said_at: Date;
  state: DeskState;
  answered_by: AnsweredBy | null;
  answered_at: Date | null;
  answered_user: number | null;
  answer: string | null;
  draft: string | null;
  trouble: string | null;
  answer_item: number | null;
  assigned_to: number | null;
  snoozed_until: Date | null;
  opened_by: number | null;
  opened_until: Date | null;
  fields: string;
  left_alone: number;
  risk: number;
}

/** Few stars and cross words first, then questions. */
const RISK = `(CASE WHEN d.stars <= 2 OR d.tone = 'cross' THEN 0 WHEN d.stars = 3 OR d.question = 1 THEN 1 ELSE 2 END)`;

const SHELVES: Record<DeskShelf, string> = {
  open: "d.state = 'open' AND (d.snoozed_until IS NULL OR d.snoozed_until <= ?)",
  later: "d.state = 'open' AND d.snoozed_until > ?",
  answered: "d.state = 'answered' AND ? IS NOT NULL",
  left: "d.state IN ('ignored', 'old', 'gone') AND ? IS NOT NULL",
};

const SELECTED = `d.item_id, d.outlet_id, d.kind, d.contact_id, d.said_at, d.state, d.answered_by, d.answered_at,
  d.answered_user, d.answer, d.draft, d.trouble, d.answer_item, d.assigned_to, d.snoozed_until, d.opened_by, d.opened_until`;

/** A page of the desk. */
export async function deskPage(
  db: Queryable,
  brandId: number,
  asked: DeskAsked,
  { after, most, now }: { after: DeskCursor | undefined; most: number; now: number },
): Promise<ShownEntry[]> {
  const where = ['d.brand_id = ?', SHELVES[asked.shelf]];
  const values: unknown[] = [brandId, toTime(now)];
  const add = (sql: string, ...of: unknown[]) => {
    where.push(sql);
    values.push(...of);
  };
  if (asked.kind) add('d.kind = ?', asked.kind);
  if (asked.outletId !== undefined) add('d.outlet_id = ?', asked.outletId);
  if (asked.stars !== undefined) add('d.stars = ?', asked.stars);
  if (asked.tone) add('d.tone = ?', asked.tone);
  if (asked.language) add('d.language = ?', asked.language);
  if (asked.assignedTo !== undefined) add('d.assigned_to = ?', asked.assignedTo);
  if (asked.label)
    add(
      'd.contact_id IN (SELECT contact_id FROM contact_labels WHERE brand_id = ? AND label = ?)',
      brandId,
      asked.label,
    );
  const words = asked.words?.trim();
  if (words) {
    const like = `%${words.replace(/[\\%_]/g, '\\$&')}%`;
    add(
      `(d.item_id IN (SELECT i.id FROM items i WHERE i.brand_id = ? AND JSON_VALUE(i.fields, '$.text') LIKE ?)
        OR d.contact_id IN (SELECT id FROM contacts WHERE brand_id = ? AND name LIKE ?))`,
      ...[brandId, like, brandId, like],
    );
  }
  const newest = asked.order === 'newest';
  const than = newest ? '<' : '>';
  if (after) {
    const behind = `(d.said_at ${than} ? OR (d.said_at = ? AND d.item_id ${than} ?))`;
    const place = [toTime(after.at), toTime(after.at), after.id];
    if (asked.order === 'atRisk') add(`(${RISK} > ? OR (${RISK} = ? AND ${behind}))`, after.risk, after.risk, ...place);
    else add(behind, ...place);
  }
  const direction = newest ? 'DESC' : 'ASC';
  const order = `${asked.order === 'atRisk' ? `${RISK}, ` : ''}d.said_at ${direction}, d.item_id ${direction}`;
  const rows = await select<Row>(
    db,
    // The page first, then what belongs to its rows.
    `SELECT p.*, i.fields, s.left_alone_at IS NOT NULL AS left_alone
     FROM (SELECT ${SELECTED}, ${RISK} AS risk FROM desk_entries d WHERE ${where.join(' AND ')} ORDER BY ${order} LIMIT ?) p
     JOIN items i ON i.id = p.item_id LEFT JOIN contacts s ON s.id = p.contact_id`,
    [...values, most],
  );
  // A join keeps no order.
  rows.sort((a, b) => {
    const time = a.said_at.getTime() - b.said_at.getTime() || a.item_id - b.item_id;
    return (asked.order === 'atRisk' ? a.risk - b.risk : 0) || (newest ? -time : time);
  });
  return withMore(db, brandId, rows, now);
}

/** All that somebody wrote to the brand, oldest first, with the answers. */
export async function conversationWith(
  db: Queryable,
  brandId: number,
  contactId: number,
  { now, most }: { now: number; most: number },
): Promise<ShownEntry[]> {
  const rows = await select<Row>(
    db,
    `SELECT ${SELECTED}, ${RISK} AS risk, i.fields, s.left_alone_at IS NOT NULL AS left_alone
     FROM desk_entries d JOIN items i ON i.id = d.item_id JOIN contacts s ON s.id = d.contact_id
     WHERE d.brand_id = ? AND d.contact_id = ? ORDER BY d.said_at DESC, d.item_id DESC LIMIT ?`,
    [brandId, contactId, most],
  );
  return withMore(db, brandId, rows.reverse(), now);
}

/** Entries by their items. */
export async function shownEntries(
  db: Queryable,
  brandId: number,
  items: readonly number[],
  now: number,
): Promise<ShownEntry[]> {
  if (items.length === 0) return [];
  const rows = await select<Row>(
    db,
    `SELECT ${SELECTED}, ${RISK} AS risk, i.fields, s.left_alone_at IS NOT NULL AS left_alone
     FROM desk_entries d JOIN items i ON i.id = d.item_id LEFT JOIN contacts s ON s.id = d.contact_id
     WHERE d.brand_id = ? AND d.item_id IN (?)`,
    [brandId, items],
  );
  return withMore(db, brandId, rows, now);
}

async function withMore(db: Queryable, brandId: number, rows: readonly Row[], now: number): Promise<ShownEntry[]> {
  const items = rows.map((row) => row.item_id);
  const about = [...items, ...rows.flatMap((row) => row.answer_item ?? [])];
  const people = [...new Set(rows.flatMap((row) => row.contact_id ?? []))];
  const [held, coming, sends, labels] = await Promise.all([
    heldAnswers(db, brandId, about),
    answersOnTheirWay(db, brandId, about),
    sendsOf(db, items),
    labelsByContact(db, brandId, people),
  ]);
  return rows.map((row): ShownEntry => {
    const of = <T>(known: Map<number, T>) =>
      known.get(row.item_id) ?? (row.answer_item === null ? undefined : known.get(row.answer_item)) ?? null;
    return {
      ...entryOf(row.kind, fieldsSchema.parse(JSON.parse(row.fields))),
      itemId: row.item_id,
      state: row.state,
      saidAt: fromTime(row.said_at),
      contactId: row.contact_id,
      leftAlone: row.left_alone === 1,
      labels: labels.get(row.contact_id ?? 0) ?? [],
      outletId: row.outlet_id,
      answer:
        row.answered_by === null
          ? null
          : {
              text: row.answer ?? '',
              by: row.answered_by,
              user: row.answered_user,
              at: fromTimeOrNull(row.answered_at) ?? fromTime(row.said_at),
            },
      draft: row.draft,
      trouble: row.trouble,
      assignedTo: row.assigned_to,
      snoozedUntil: fromTimeOrNull(row.snoozed_until),
      openedBy: openedNow(row, now),
      held: of(held),
      coming: of(coming),
      sending: sends.get(row.item_id) ?? null,
      risk: row.risk,
    };
  });
}

/** What workflows did with somebody, newest first. */
export async function doneWith(
  db: Queryable,
  brandId: number,
  contactId: number,
  most: number,
): Promise<{ workflow: string; workflowId: number; action: string; text: string; url: string | null; at: number }[]> {
  const rows = await select<{
    workflow: string;
    workflowId: number;
    action: string;
    text: string;
    url: string | null;
    at: Date;
  }>(
    db,
    `SELECT f.name AS workflow, f.id AS workflowId, l.action, l.text, l.url, l.at
     FROM desk_entries d JOIN runs r ON r.item_id = d.item_id JOIN logbook l ON l.run_id = r.id
       JOIN workflows f ON f.id = l.workflow_id
     WHERE d.brand_id = ? AND d.contact_id = ? ORDER BY l.at DESC, l.id DESC LIMIT ?`,
    [brandId, contactId, most],
  );
  return rows.map(({ at, ...row }) => ({ ...row, at: fromTime(at) }));
}

/** Which kinds of answers an entry takes, for the rules of their lengths. */
export const purposeOfEntry = (kind: DeskKind): 'answer' | 'message' =>
  ANSWERED_BY[kind].act === 'reply' ? 'answer' : 'message';

/** What people wrote since a moment, newest first. */
export async function saidSince(
  db: Queryable,
  brandId: number,
  since: number,
  most: number,
): Promise<{ itemId: number; outletId: number | null; saidAt: number; entry: Entry }[]> {
  const rows = await select<{
    item_id: number;
    outlet_id: number | null;
    kind: DeskKind;
    said_at: Date;
    fields: string;
  }>(
    db,
    `SELECT d.item_id, d.outlet_id, d.kind, d.said_at, i.fields FROM desk_entries d JOIN items i ON i.id = d.item_id
     WHERE d.brand_id = ? AND d.said_at >= ? ORDER BY d.said_at DESC, d.item_id DESC LIMIT ?`,
    [brandId, toTime(since), most],
  );
  return rows.map((row) => ({
    itemId: row.item_id,
    outletId: row.outlet_id,
    saidAt: fromTime(row.said_at),
    entry: entryOf(row.kind, fieldsSchema.parse(JSON.parse(row.fields))),
  }));
}
