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

/**
 * Sees to it that there is room.
 *
 * @param more how many are still to be added; 0 in a transaction that has added them
 * @throws NoRoom
 */
export async function needRoom(db: Queryable, brandId: number, what: Roomy, more: number): Promise<void> {
  const [row] = await select<{ n: number }>(db, COUNT[what], [brandId]);
  if (Number(row!.n) + more > ROOM[what]) throw new NoRoom(what);
}
