// Which workflows use something of the brand's own: a snippet, a file.
import type { Step } from '@playa/core/steps/index.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { Queryable } from '../db/database.ts';
import { liveDefinitions } from '../store/versions.ts';
import { workflowsOf } from '../store/workflows.ts';

/** A workflow that uses it. */
export interface Use {
  workflowId: number;
  workflow: string;
  /** How many of its steps. */
  steps: number;
  /** Whether what runs uses it, or only the draft. */
  live: boolean;
}

/** Workflows in which steps are found, each with the definition that counts: what is live, if that uses it. */
export async function workflowsUsing(
  db: Queryable,
  brandId: number,
  find: (definition: Definition) => readonly Step[],
): Promise<(Use & { definition: Definition })[]> {
  const uses: (Use & { definition: Definition })[] = [];
  const all = await workflowsOf(db, brandId);
  const definitions = await liveDefinitions(db, brandId, all);
  for (const workflow of all) {
    const live = definitions.get(workflow.id);
    const inLive = live ? find(live).length : 0;
    const inDraft = find(workflow.draft).length;
    if (inLive + inDraft === 0) continue;
    uses.push({
      workflowId: workflow.id,
      workflow: workflow.name,
      steps: inLive || inDraft,
      live: inLive > 0,
      definition: inLive > 0 && live ? live : workflow.draft,
    });
  }
  return uses;
}

/** The same without the definitions. */
export async function usesOf(
  db: Queryable,
  brandId: number,
  find: (definition: Definition) => readonly Step[],
): Promise<Use[]> {
  return (await workflowsUsing(db, brandId, find)).map(({ definition: _, ...use }) => use);
}
