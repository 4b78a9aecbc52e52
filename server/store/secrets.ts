import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

/** Keeps a sealed secret under its name; an older one of that name is replaced. */
export async function keepSecret(
  db: Queryable,
  brandId: number,
  name: string,
  sealed: Buffer,
  now: number,
): Promise<void> {
  await change(
    db,
    `INSERT INTO secrets (brand_id, name, sealed, changed_at) VALUES (?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE sealed = VALUES(sealed), changed_at = VALUES(changed_at)`,
    [brandId, name, sealed, toTime(now)],
  );
}

/** Names only: what a secret is, nobody is shown again. */
/** @param page where the list begins, and how long it is; all of them without */
export async function secretNames(
  db: Queryable,
  brandId: number,
  page?: { after: string; most: number },
): Promise<{ name: string; changedAt: number }[]> {
  const rows = await select<{ name: string; changed_at: Date }>(
    db,
    `SELECT name, changed_at FROM secrets WHERE brand_id = ?${page ? ' AND name > ?' : ''} ORDER BY name${page ? ' LIMIT ?' : ''}`,
    [brandId, ...(page ? [page.after, page.most] : [])],
  );
  return rows.map((row) => ({ name: row.name, changedAt: fromTime(row.changed_at) }));
}

export async function sealedSecret(db: Queryable, brandId: number, name: string): Promise<Buffer | undefined> {
  const [row] = await select<{ sealed: Buffer }>(db, 'SELECT sealed FROM secrets WHERE brand_id = ? AND name = ?', [
    brandId,
    name,
  ]);
  return row?.sealed;
}

export async function deleteSecret(db: Queryable, brandId: number, name: string): Promise<boolean> {
  return (await change(db, 'DELETE FROM secrets WHERE brand_id = ? AND name = ?', [brandId, name])).rows > 0;
}
