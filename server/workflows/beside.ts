import type { Beside } from '@playa/core/workflow/together.ts';
import type { Queryable } from '../db/database.ts';
import { liveDefinitions } from '../store/versions.ts';
import { workflowsOf, type Workflow } from '../store/workflows.ts';

/** The live workflows of a brand, each as it runs. One that cannot be read is left out. */
export async function liveBeside(db: Queryable, brandId: number): Promise<Beside[]> {
  const live = (await workflowsOf(db, brandId)).filter((workflow) => workflow.status === 'live');
  return besideOf(live, await liveDefinitions(db, brandId, live));
}

/** The live ones among some workflows. */
export const besideOf = (
  workflows: readonly Pick<Workflow, 'id' | 'name' | 'status'>[],
  definitions: Awaited<ReturnType<typeof liveDefinitions>>,
): Beside[] =>
  workflows.flatMap(({ id, name, status }) => {
    const definition = definitions.get(id);
    return status === 'live' && definition ? [{ id, name, definition }] : [];
  });
