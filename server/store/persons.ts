import { createHash } from 'node:crypto';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import type { FieldValue } from '@playa/core/items/item.ts';
import { change, select, toTime, type Queryable } from '../db/database.ts';

const hashOf = (remoteId: string) => createHash('sha256').update(remoteId).digest();

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
  const { network = '' } = label;
  const hash = hashOf(label.person);
  // Somebody known from before networks were told apart is whoever comes with that identifier first.
  if (network !== '')
    await change(db, `UPDATE IGNORE persons SET network = ? WHERE brand_id = ? AND network = '' AND remote_hash = ?`, [
      network,
      brandId,
      hash,
    ]);
  await change(
    db,
    `INSERT INTO persons (brand_id, network, remote_hash, remote_id, name, first_at) VALUES (?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE name = VALUES(name)`,
    [brandId, network, hash, cutUnits(label.person, 500), cutUnits(label.name, 200), toTime(now)],
  );
  const [{ id } = { id: 0 }] = await select<{ id: number }>(
    db,
    'SELECT id FROM persons WHERE brand_id = ? AND network = ? AND remote_hash = ?',
    [brandId, network, hash],
  );
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
  ['name', 'p.name = ?'],
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
    `SELECT p.id, p.remote_id, p.name, p.first_at FROM persons p WHERE p.brand_id = ? AND ${where}${here} ORDER BY p.network = '', p.id LIMIT 10`,
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
