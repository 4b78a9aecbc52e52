// People who wrote to the brand, as they are shown and listed.
import { revisionOf } from '../db/revision.ts';
import { select, fromTime, toTime, type Queryable } from '../db/database.ts';
import { alsoKnownAs, type AlsoKnown } from './merged-contacts.ts';

/** Somebody who wrote to the brand, for showing. */
export interface ShownContact {
  id: number;
  name: string;
  network: string;
  since: number;
  notes: string;
  labels: string[];
  /** Why they are left alone; null when they are not. */
  leftAlone: string | null;
  /** Of the notes. */
  revision: string;
  /** As whom they are known besides. */
  also: AlsoKnown[];
}

/** Somebody, or as whom they are known since they were made one. */
export async function contactBy(db: Queryable, brandId: number, id: number): Promise<ShownContact | undefined> {
  const [row] = await select<{
    id: number;
    name: string;
    network: string;
    first_at: Date;
    notes: string | null;
    left_alone_at: Date | null;
    left_alone_because: string | null;
  }>(
    db,
    'SELECT * FROM contacts WHERE brand_id = ? AND id = COALESCE((SELECT merged_into FROM contacts WHERE id = ?), ?)',
    [brandId, id, id],
  );
  if (!row) return undefined;
  const labels = await select<{ label: string }>(
    db,
    'SELECT label FROM contact_labels WHERE brand_id = ? AND contact_id = ? ORDER BY label',
    [brandId, row.id],
  );
  const also = await alsoKnownAs(db, brandId, row.id);
  return {
    id: row.id,
    name: row.name,
    network: row.network,
    since: fromTime(row.first_at),
    notes: row.notes ?? '',
    revision: revisionOf(row.notes ?? ''),
    labels: labels.map(({ label }) => label),
    leftAlone: row.left_alone_at === null ? null : (row.left_alone_because ?? 'A colleague said so.'),
    also,
  };
}

/** Somebody as a list shows them. */
export interface ListedContact {
  id: number;
  name: string;
  network: string;
  labels: string[];
  lastAt: number;
  lastText: string;
  /** How much of what they wrote waits for an answer. */
  waiting: number;
  leftAlone: boolean;
}

/** How people are asked for. */
export interface ContactsAsked {
  words?: string | undefined;
  label?: string | undefined;
  network?: string | undefined;
  /** Those that wait for an answer, or are left alone. */
  only?: 'waiting' | 'alone' | undefined;
}

/** People of a brand, those who wrote last first. */
export async function contactsPage(
  db: Queryable,
  brandId: number,
  asked: ContactsAsked,
  after: { at: number; id: number } | undefined,
  most: number,
): Promise<ListedContact[]> {
  const where = ['p.brand_id = ?', 'p.merged_into IS NULL'];
  const values: unknown[] = [brandId];
  const add = (sql: string, ...of: unknown[]) => {
    where.push(sql);
    values.push(...of);
  };
  const words = asked.words?.trim();
  if (words) {
    const like = `%${words.replace(/[\\%_]/g, '\\$&')}%`;
    add('(p.name LIKE ? OR p.notes LIKE ? OR p.last_text LIKE ?)', like, like, like);
  }
  if (asked.label)
    add('EXISTS (SELECT 1 FROM contact_labels l WHERE l.contact_id = p.id AND l.label = ?)', asked.label);
  if (asked.network)
    add(
      '(p.network = ? OR EXISTS (SELECT 1 FROM contacts a WHERE a.merged_into = p.id AND a.network = ?))',
      ...[asked.network, asked.network],
    );
  if (asked.only === 'alone') add('p.left_alone_at IS NOT NULL');
  if (asked.only === 'waiting')
    add(`EXISTS (SELECT 1 FROM desk_entries d WHERE d.contact_id = p.id AND d.state = 'open')`);
  if (after) add('(p.last_at < ? OR (p.last_at = ? AND p.id < ?))', ...[toTime(after.at), toTime(after.at), after.id]);
  const rows = await select<{
    id: number;
    name: string;
    network: string;
    last_at: Date;
    last_text: string | null;
    left_alone_at: Date | null;
    waiting: number;
  }>(
    db,
    `SELECT p.id, p.name, p.network, p.last_at, p.last_text, p.left_alone_at,
       (SELECT COUNT(*) FROM desk_entries d WHERE d.contact_id = p.id AND d.state = 'open') AS waiting
     FROM contacts p WHERE ${where.join(' AND ')} ORDER BY p.last_at DESC, p.id DESC LIMIT ?`,
    [...values, most],
  );
  const labels = await labelsByContact(
    db,
    brandId,
    rows.map(({ id }) => id),
  );
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    network: row.network,
    labels: labels.get(row.id) ?? [],
    lastAt: fromTime(row.last_at),
    lastText: row.last_text ?? '',
    waiting: Number(row.waiting),
    leftAlone: row.left_alone_at !== null,
  }));
}

/** The labels of people, by their numbers. */
export async function labelsByContact(
  db: Queryable,
  brandId: number,
  people: readonly number[],
): Promise<Map<number, string[]>> {
  const labels = new Map<number, string[]>();
  if (people.length === 0) return labels;
  const rows = await select<{ id: number; label: string }>(
    db,
    'SELECT contact_id AS id, label FROM contact_labels WHERE brand_id = ? AND contact_id IN (?) ORDER BY label',
    [brandId, people],
  );
  for (const { id, label } of rows) labels.set(id, [...(labels.get(id) ?? []), label]);
  return labels;
}

/** Every label that people of a brand have, the most used first. */
export async function labelsInUse(db: Queryable, brandId: number): Promise<{ label: string; count: number }[]> {
  const rows = await select<{ label: string; count: number }>(
    db,
    'SELECT label, COUNT(*) AS count FROM contact_labels WHERE brand_id = ? GROUP BY label ORDER BY count DESC, label LIMIT 200',
    [brandId],
  );
  return rows.map(({ label, count }) => ({ label, count: Number(count) }));
}
