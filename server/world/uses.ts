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

/** Finds the steps that use a thing. */
export type FindSteps = (definition: Definition) => readonly Step[];

/** Workflows in which steps are found, each with the definition that counts: what is live, if that uses it. */
export async function workflowsUsing(
  db: Queryable,
  brandId: number,
  find: FindSteps,
): Promise<(Use & { definition: Definition })[]> {
  return among(await definitionsOf(db, brandId), find);
}

/** A brand's workflows with what is live of them. */
async function definitionsOf(db: Queryable, brandId: number) {
  const all = await workflowsOf(db, brandId);
  const definitions = await liveDefinitions(db, brandId, all);
  return all.map((workflow) => ({ ...workflow, live: definitions.get(workflow.id) }));
}

function among(all: Awaited<ReturnType<typeof definitionsOf>>, find: FindSteps) {
  const uses: (Use & { definition: Definition })[] = [];
  for (const { live, ...workflow } of all) {
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

const withoutDefinition = ({ definition: _, ...use }: Use & { definition: Definition }): Use => use;

/** The same without the definitions. */
export async function usesOf(db: Queryable, brandId: number, find: FindSteps): Promise<Use[]> {
  return (await workflowsUsing(db, brandId, find)).map(withoutDefinition);
}

/** The uses of many things, each in its place: what the workflows are is read once. */
export async function usesOfEach(db: Queryable, brandId: number, finds: readonly FindSteps[]): Promise<Use[][]> {
  if (finds.length === 0) return [];
  const all = await definitionsOf(db, brandId);
  return finds.map((find) => among(all, find).map(withoutDefinition));
}
