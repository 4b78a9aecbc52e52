// Whether the records that were kept are those that would be made anew.
import { inTransaction, select } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { rebuildRecords } from '../runner/rebuild-records.ts';
import { foldCounts } from '../store/counts.ts';

/** All records as they stand, each kind as lines in a fixed order. */
async function records({ pool }: Services): Promise<Record<string, string[]>> {
  while ((await inTransaction(pool, (db) => foldCounts(db, 10_000))) > 0);
  const lines = async (sql: string) => (await select<object>(pool, sql)).map((row) => JSON.stringify(row));
  return {
    // Since when something is held is not known from its run.
    held: await lines(
      `SELECT run_id, effect_key, brand_id, workflow_id, item_id, outlet_id, action, input, says, trouble, fault, place
       FROM held ORDER BY run_id, effect_key`,
    ),
    postsAhead: await lines('SELECT * FROM posts_ahead ORDER BY run_id, step, outlet_id'),
    versionPosts: await lines('SELECT * FROM version_posts ORDER BY workflow_id, version, step, outlet_id'),
    counts: await lines(
      `SELECT brand_id, CAST(day AS CHAR) AS day, workflow_id, what, state, outlet_id, n FROM counts
       WHERE n <> 0 ORDER BY brand_id, day, workflow_id, what, state, outlet_id`,
    ),
  };
}

/** What is kept and what is made anew; nobody may be working meanwhile. */
export async function keptAndRebuilt(
  services: Services,
): Promise<{ kept: Record<string, string[]>; rebuilt: Record<string, string[]> }> {
  const kept = await records(services);
  await rebuildRecords(services);
  return { kept, rebuilt: await records(services) };
}
