import { createHash } from 'node:crypto';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import type { FieldValue } from '@playa/core/items/item.ts';
import { noteStopped } from './journeys.ts';
import { wholeOf } from './merged-contacts.ts';
import { change, select, toTime, type Queryable } from '../db/database.ts';

export const hashOf = (remoteId: string) => createHash('sha256').update(remoteId).digest();

/**
 * The number of somebody at a network; somebody new becomes known by it. Who was made one with another is the other.
 *
 * @param who as the network knows them; the network is empty where nobody knows it. A name that is none, or only their
 *   identifier, does not take the place of one that is known
 */
export async function keepContact(
  db: Queryable,
  brandId: number,
  { person, network = '', name }: { person: string; network?: string | undefined; name: string },
  now: number,
): Promise<number> {
  const hash = hashOf(person);
  // Somebody known from before networks were told apart is whoever comes with that identifier first.
  if (network !== '')
    await change(db, `UPDATE IGNORE contacts SET network = ? WHERE brand_id = ? AND network = '' AND remote_hash = ?`, [
      network,
      brandId,
      hash,
    ]);
  await change(
    db,
    `INSERT INTO contacts (brand_id, network, remote_hash, remote_id, name, first_at, last_at) VALUES (?, ?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE name = IF(VALUES(name) IN ('', 'Somebody', VALUES(remote_id)), name, VALUES(name))`,
    [brandId, network, hash, cutUnits(person, 500), cutUnits(name, 200), toTime(now), toTime(now)],
  );
  const [{ id } = { id: 0 }] = await select<{ id: number }>(
    db,
    'SELECT COALESCE(merged_into, id) AS id FROM contacts WHERE brand_id = ? AND network = ? AND remote_hash = ?',
    [brandId, network, hash],
  );
  return id;
}

/** Marks a person, or takes marks away; somebody new becomes known by it. */
export async function labelContact(
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
  const id = await keepContact(db, brandId, label, now);
  for (const each of label.add)
    await change(db, 'INSERT IGNORE INTO contact_labels (contact_id, label, brand_id, at) VALUES (?, ?, ?, ?)', [
      id,
      each,
      brandId,
      toTime(now),
    ]);
  if (label.remove.length > 0)
    await change(db, 'DELETE FROM contact_labels WHERE contact_id = ? AND label IN (?)', [id, label.remove]);
  return id;
}

const FOUND_BY = new Map([
  ['id', 'p.remote_hash = ?'],
  ['name', 'p.name = ? AND p.merged_into IS NULL'],
  ['label', 'EXISTS (SELECT 1 FROM contact_labels l WHERE l.contact_id = p.id AND l.label = ?)'],
]);

/**
 * People of the brand with this id, name or label, with their labels; at most ten.
 *
 * @param network whose people are meant, for ids; empty where nobody knows
 */
export async function findContacts(
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
    `SELECT COALESCE(p.merged_into, p.id) AS id, p.remote_id, p.name, p.first_at FROM contacts p WHERE p.brand_id = ? AND ${where}${here} ORDER BY p.network = '', p.id LIMIT 10`,
    [brandId, by === 'id' ? hashOf(value) : value, ...(here ? [network] : [])],
  );
  if (rows.length === 0) return [];
  const labels = await select<{ contact_id: number; label: string }>(
    db,
    'SELECT contact_id, label FROM contact_labels WHERE brand_id = ? AND contact_id IN (?) ORDER BY label',
    [brandId, rows.map((row) => row.id)],
  );
  return rows.map((row) => ({
    id: row.remote_id,
    name: row.name,
    since: row.first_at.toISOString(),
    labels: labels.filter((each) => each.contact_id === row.id).map((each) => each.label),
  }));
}

/** Notes what somebody wrote last. */
export async function noteLastWord(db: Queryable, id: number, text: string, at: number): Promise<void> {
  await change(
    db,
    'UPDATE contacts SET last_at = ?, last_text = ? WHERE id = ? AND (last_at IS NULL OR last_at <= ?)',
    [toTime(at), cutUnits(text, 300), id, toTime(at)],
  );
}

/** Leaves somebody alone from now on, or no longer. @param because in a few words; null to write to them again */
export async function leaveAlone(
  db: Queryable,
  brandId: number,
  id: number,
  because: string | null,
  now: number,
): Promise<void> {
  await change(db, 'UPDATE contacts SET left_alone_at = ?, left_alone_because = ? WHERE brand_id = ? AND id = ?', [
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
          `SELECT w.left_alone_because AS because FROM contacts p JOIN contacts w ON w.id = COALESCE(p.merged_into, p.id)
           WHERE p.brand_id = ? AND p.network IN (?, '') AND p.remote_hash = ? AND w.left_alone_at IS NOT NULL LIMIT 1`,
          [brandId, whom.network, hashOf(whom.person)],
        )
      : await select<{ because: string }>(
          db,
          `SELECT p.left_alone_because AS because FROM desk_entries d JOIN contacts p ON p.id = d.contact_id
           WHERE d.brand_id = ? AND d.outlet_id = ? AND d.answers_to = ? AND p.left_alone_at IS NOT NULL LIMIT 1`,
          [brandId, whom.outletId, whom.answersTo],
        );
  return rows[0]?.because ?? null;
}

/** Somebody, and as whom they are known, so that nobody notes anything of them meanwhile. */
export async function lockContact(db: Queryable, brandId: number, id: number): Promise<void> {
  const whole = (await wholeOf(db, brandId, [id])).get(id);
  if (whole !== undefined && whole !== id) await wholeOf(db, brandId, [whole]);
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
    `DELETE FROM contact_labels WHERE brand_id = ? AND contact_id = ?${labels.length > 0 ? ' AND label NOT IN (?)' : ''}`,
    [brandId, id, ...(labels.length > 0 ? [labels] : [])],
  );
  for (const label of labels)
    await change(db, 'INSERT IGNORE INTO contact_labels (contact_id, label, brand_id, at) VALUES (?, ?, ?, ?)', [
      id,
      label,
      brandId,
      toTime(now),
    ]);
}

export async function setNotes(db: Queryable, brandId: number, id: number, notes: string): Promise<void> {
  await change(db, 'UPDATE contacts SET notes = ? WHERE brand_id = ? AND id = ?', [notes || null, brandId, id]);
}
