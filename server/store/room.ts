// How much a brand can have of what is chosen from everywhere: such choices come whole, so that they can be searched as one
// types.
import { select, type Queryable } from '../db/database.ts';

/** How many a brand can have of what is there; outlets that are gone do not count. */
export const ROOM = { outlets: 1000, workflows: 500 } as const;
export type Roomy = keyof typeof ROOM;

const COUNT: Readonly<Record<Roomy, string>> = {
  outlets: 'SELECT COUNT(*) AS n FROM outlets WHERE brand_id = ? AND gone_at IS NULL',
  workflows: 'SELECT COUNT(*) AS n FROM workflows WHERE brand_id = ?',
};

/** A brand has as many of something as it can. */
export class NoRoom extends Error {
  override name = 'NoRoom';
  constructor(what: Roomy) {
    super(
      what === 'outlets'
        ? `A brand can have ${ROOM.outlets} outlets, and this would be more. Disconnect an account first, or make another brand.`
        : `A brand can have ${ROOM.workflows} workflows, and it has them. Delete one first.`,
    );
  }
}

/** How many a brand has. */
export async function countOf(db: Queryable, brandId: number, what: Roomy): Promise<number> {
  const [row] = await select<{ n: number }>(db, COUNT[what], [brandId]);
  return Number(row!.n);
}

/**
 * Sees to it that there is room for one more.
 *
 * @throws NoRoom
 */
export async function needRoom(db: Queryable, brandId: number, what: Roomy): Promise<void> {
  if ((await countOf(db, brandId, what)) >= ROOM[what]) throw new NoRoom(what);
}

/**
 * Does what may add to them, in a transaction. A brand that has more than there is room for, from before there was a
 * limit, keeps them, and what lists them anew works as ever.
 *
 * @throws NoRoom when there are more than before, and more than there is room for
 */
export async function withinRoom(
  db: Queryable,
  brandId: number,
  what: Roomy,
  work: () => Promise<unknown>,
): Promise<void> {
  const before = await countOf(db, brandId, what);
  await work();
  if ((await countOf(db, brandId, what)) > Math.max(before, ROOM[what])) throw new NoRoom(what);
}
