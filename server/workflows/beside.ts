import type { Beside } from '@playa/core/workflow/together.ts';
import type { Queryable } from '../db/database.ts';
import { definitionOf } from '../store/versions.ts';
import { workflowsOf } from '../store/workflows.ts';

/** The live workflows of a brand, each as it runs. One that cannot be read is left out. */
export async function liveBeside(db: Queryable, brandId: number): Promise<Beside[]> {
  const live = (await workflowsOf(db, brandId)).filter((workflow) => workflow.status === 'live');
  const read = await Promise.all(
    live.map(async ({ id, name, liveVersion }) => ({
      id,
      name,
      definition: await definitionOf(db, brandId, id, liveVersion ?? 0).catch(() => undefined),
    })),
  );
  return read.flatMap(({ definition, ...workflow }) => (definition ? [{ ...workflow, definition }] : []));
}
