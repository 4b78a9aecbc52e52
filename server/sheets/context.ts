import type { CellContext } from '@playa/core/sheets/cell.ts';
import type { Queryable } from '../db/database.ts';
import { outletsOf } from '../store/outlets.ts';
import { brandById, membersOf } from '../store/users.ts';

/** By what cells of a brand's sheets are read: the outlets and colleagues they can name, and where dates are written. */
export async function cellContextOf(db: Queryable, brandId: number): Promise<CellContext> {
  const [brand, outlets, people] = await Promise.all([
    brandById(db, brandId),
    outletsOf(db, brandId),
    membersOf(db, brandId),
  ]);
  return {
    zone: brand?.timeZone ?? 'UTC',
    locale: brand?.locale ?? 'en',
    outlets: new Map(outlets.map(({ id, name }) => [id, { name }])),
    people: new Map(people.map(({ id, name }) => [id, name])),
  };
}
