// Whole runs, for tests that look at what runs know.
import { select, type Queryable } from '../db/database.ts';
import { readForShow, runsPage } from '../store/runs-shown.ts';
import type { Row, Run } from '../store/runs.ts';

/** A workflow's runs: those that wait for something first, then the newest. */
export const runsOf = async (db: Queryable, brandId: number, workflowId: number, most: number): Promise<Run[]> =>
  (await runsPage(db, brandId, workflowId, most)).runs;

/** The runs of a brand that are held, oldest first. */
export async function heldRuns(db: Queryable, brandId: number): Promise<Run[]> {
  const rows = await select<Row>(db, "SELECT * FROM runs WHERE brand_id = ? AND status = 'held' ORDER BY changed_at", [
    brandId,
  ]);
  return rows.map(readForShow);
}
