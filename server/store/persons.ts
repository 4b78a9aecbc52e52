import { createHash } from 'node:crypto';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import type { FieldValue } from '@playa/core/items/item.ts';
import { revisionOf } from '../db/revision.ts';
import { noteStopped } from './journeys.ts';
import { alsoKnownAs, wholeOf, type AlsoKnown } from './merged-persons.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

export const hashOf = (remoteId: string) => createHash('sha256').update(remoteId).digest();

/**
 * The number of somebody at a network; somebody new becomes known by it. Who was made one with another is the other.
 *
 * @param who as the network knows them; the network is empty where nobody knows it. A name that is none, or only their
 *   identifier, does not take the place of one that is known
 */
export async function keepPerson(
  db: Queryable,
  brandId: number,
  { person, network = '', name }: { person: string; network?: string | undefined; name: string },
  now: number,
): Promise<number> {
  const hash = hashOf(person);
  // Somebody known from before networks were told apart is whoever comes with that identifier first.
  if (network !== '')
    await change(db, `UPDATE IGNORE persons SET network = ? WHERE brand_id = ? AND network = '' AND remote_hash = ?`, [
      network,
      brandId,
      hash,
    ]);
  await change(
    db,
    `INSERT INTO persons (brand_id, network, remote_hash, remote_id, name, first_at, last_at) VALUES (?, ?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE name = IF(VALUES(name) IN ('', 'Somebody', VALUES(remote_id)), name, VALUES(name))`,
    [brandId, network, hash, cutUnits(person, 500), cutUnits(name, 200), toTime(now), toTime(now)],
  );
  const [{ id } = { id: 0 }] = await select<{ id: number }>(
    db,
    'SELECT COALESCE(merged_into, id) AS id FROM persons WHERE brand_id = ? AND network = ? AND remote_hash = ?',
    [brandId, network, hash],
  );
  return id;
}

/** Marks a person, or takes marks away; somebody new becomes known by it. */
export async function labelPerson(
  db: Queryable,
  brandId: number,
  label: {
    person: string;
    network?: string | undefined;
    name: string;
    add: readonly string[];
    remove: readonly string[];
  },
  now: number,
): Promise<number> {
  const id = await keepPerson(db, brandId, label, now);
  for (const each of label.add)
    await change(db, 'INSERT IGNORE INTO person_labels (person_id, label, brand_id, at) VALUES (?, ?, ?, ?)', [
      id,
      each,
      brandId,
      toTime(now),
    ]);
  if (label.remove.length > 0)
    await change(db, 'DELETE FROM person_labels WHERE person_id = ? AND label IN (?)', [id, label.remove]);
  return id;
}

const FOUND_BY = new Map([
  ['id', 'p.remote_hash = ?'],
  ['name', 'p.name = ? AND p.merged_into IS NULL'],
  ['label', 'EXISTS (SELECT 1 FROM person_labels l WHERE l.person_id = p.id AND l.label = ?)'],
]);

/**
 * People of the brand with this id, name or label, with their labels; at most ten.
 *
 * @param network whose people are meant, for ids; empty where nobody knows
 */
export async function findPersons(
  db: Queryable,
  brandId: number,
  by: string,
  value: string,
  network = '',
): Promise<FieldValue[]> {
  const where = FOUND_BY.get(by);
  if (!where) return [];
  // Those from before networks were told apart may be anybody with that identifier.
  const here = by === 'id' && network !== '' ? " AND p.network IN (?, '')" : '';
  const rows = await select<{ id: number; remote_id: string; name: string; first_at: Date }>(
    db,
    `SELECT COALESCE(p.merged_into, p.id) AS id, p.remote_id, p.name, p.first_at FROM persons p WHERE p.brand_id = ? AND ${where}${here} ORDER BY p.network = '', p.id LIMIT 10`,
    [brandId, by === 'id' ? hashOf(value) : value, ...(here ? [network] : [])],
  );
  if (rows.length === 0) return [];
  const labels = await select<{ person_id: number; label: string }>(
    db,
    'SELECT person_id, label FROM person_labels WHERE brand_id = ? AND person_id IN (?) ORDER BY label',
    [brandId, rows.map((row) => row.id)],
  );
  return rows.map((row) => ({
    id: row.remote_id,
    name: row.name,
    since: row.first_at.toISOString(),
    labels: labels.filter((each) => each.person_id === row.id).map((each) => each.label),
  }));
}

/** Notes what somebody wrote last. */
export async function noteLastWord(db: Queryable, id: number, text: string, at: number): Promise<void> {
  await change(db, 'UPDATE persons SET last_at = ?, last_text = ? WHERE id = ? AND (last_at IS NULL OR last_at <= ?)', [
    toTime(at),
    cutUnits(text, 300),
    id,
    toTime(at),
  ]);
}

/** Leaves somebody alone from now on, or no longer. @param because in a few words; null to write to them again */
export async function leaveAlone(
  db: Queryable,
  brandId: number,
  id: number,
  because: string | null,
  now: number,
): Promise<void> {
  await change(db, 'UPDATE persons SET left_alone_at = ?, left_alone_because = ? WHERE brand_id = ? AND id = ?', [
    because === null ? null : toTime(now),
    because === null ? null : cutUnits(because, 300),
    brandId,
    id,
  ]);
  if (because !== null) await noteStopped(db, id, now);
}

/**
 * Why somebody is left alone; null when they are not.
 *
 * @param whom a person by the network's own id, or whoever wrote what is answered there
 */
export async function whyLeftAlone(
  db: Queryable,
  brandId: number,
  whom: { network: string; person: string } | { outletId: number; answersTo: string },
): Promise<string | null> {
  const rows =
    'person' in whom
      ? await select<{ because: string }>(
          db,
          `SELECT w.left_alone_because AS because FROM persons p JOIN persons w ON w.id = COALESCE(p.merged_into, p.id)
           WHERE p.brand_id = ? AND p.network IN (?, '') AND p.remote_hash = ? AND w.left_alone_at IS NOT NULL LIMIT 1`,
          [brandId, whom.network, hashOf(whom.person)],
        )
      : await select<{ because: string }>(
          db,
          `SELECT p.left_alone_because AS because FROM desk_entries d JOIN persons p ON p.id = d.person_id
           WHERE d.brand_id = ? AND d.outlet_id = ? AND d.answers_to = ? AND p.left_alone_at IS NOT NULL LIMIT 1`,
          [brandId, whom.outletId, whom.answersTo],
        );
  return rows[0]?.because ?? null;
}

/** Somebody who wrote to the brand, for showing. */
export interface ShownPerson {
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

/** Somebody, and as whom they are known, so that nobody notes anything of them meanwhile. */
export async function lockPerson(db: Queryable, brandId: number, id: number): Promise<void> {
  const whole = (await wholeOf(db, brandId, [id])).get(id);
  if (whole !== undefined && whole !== id) await wholeOf(db, brandId, [whole]);
}

/** Somebody, or as whom they are known since they were made one. */
export async function personBy(db: Queryable, brandId: number, id: number): Promise<ShownPerson | undefined> {
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
    'SELECT * FROM persons WHERE brand_id = ? AND id = COALESCE((SELECT merged_into FROM persons WHERE id = ?), ?)',
    [brandId, id, id],
  );
  if (!row) return undefined;
  const labels = await select<{ label: string }>(
    db,
    'SELECT label FROM person_labels WHERE brand_id = ? AND person_id = ? ORDER BY label',
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
export interface ListedPerson {
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
export interface PeopleAsked {
  words?: string | undefined;
  label?: string | undefined;
  network?: string | undefined;
  /** Those that wait for an answer, or are left alone. */
  only?: 'waiting' | 'alone' | undefined;
}

/** People of a brand, those who wrote last first. */
export async function peoplePage(
  db: Queryable,
  brandId: number,
  asked: PeopleAsked,
  after: { at: number; id: number } | undefined,
  most: number,
): Promise<ListedPerson[]> {
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
  if (asked.label) add('EXISTS (SELECT 1 FROM person_labels l WHERE l.person_id = p.id AND l.label = ?)', asked.label);
  if (asked.network)
    add(
      '(p.network = ? OR EXISTS (SELECT 1 FROM persons a WHERE a.merged_into = p.id AND a.network = ?))',
      ...[asked.network, asked.network],
    );
  if (asked.only === 'alone') add('p.left_alone_at IS NOT NULL');
  if (asked.only === 'waiting')
    add(`EXISTS (SELECT 1 FROM desk_entries d WHERE d.person_id = p.id AND d.state = 'open')`);
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
       (SELECT COUNT(*) FROM desk_entries d WHERE d.person_id = p.id AND d.state = 'open') AS waiting
     FROM persons p WHERE ${where.join(' AND ')} ORDER BY p.last_at DESC, p.id DESC LIMIT ?`,
    [...values, most],
  );
  const labels = await labelsByPerson(
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
export async function labelsByPerson(
  db: Queryable,
  brandId: number,
  people: readonly number[],
): Promise<Map<number, string[]>> {
  const labels = new Map<number, string[]>();
  if (people.length === 0) return labels;
  const rows = await select<{ id: number; label: string }>(
    db,
    'SELECT person_id AS id, label FROM person_labels WHERE brand_id = ? AND person_id IN (?) ORDER BY label',
    [brandId, people],
  );
  for (const { id, label } of rows) labels.set(id, [...(labels.get(id) ?? []), label]);
  return labels;
}

/** Every label that people of a brand have, the most used first. */
export async function labelsInUse(db: Queryable, brandId: number): Promise<{ label: string; count: number }[]> {
  const rows = await select<{ label: string; count: number }>(
    db,
    'SELECT label, COUNT(*) AS count FROM person_labels WHERE brand_id = ? GROUP BY label ORDER BY count DESC, label LIMIT 200',
    [brandId],
  );
  return rows.map(({ label, count }) => ({ label, count: Number(count) }));
}

/** Gives somebody these labels and no others. */
export async function setLabels(
  db: Queryable,
  brandId: number,
  id: number,
  labels: readonly string[],
  now: number,
): Promise<void> {
  await change(
    db,
    `DELETE FROM person_labels WHERE brand_id = ? AND person_id = ?${labels.length > 0 ? ' AND label NOT IN (?)' : ''}`,
    [brandId, id, ...(labels.length > 0 ? [labels] : [])],
  );
  for (const label of labels)
    await change(db, 'INSERT IGNORE INTO person_labels (person_id, label, brand_id, at) VALUES (?, ?, ?, ?)', [
      id,
      label,
      brandId,
      toTime(now),
    ]);
}

export async function setNotes(db: Queryable, brandId: number, id: number, notes: string): Promise<void> {
  await change(db, 'UPDATE persons SET notes = ? WHERE brand_id = ? AND id = ?', [notes || null, brandId, id]);
}
