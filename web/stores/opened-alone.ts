// A definition that is no workflow, such as a post written by hand: the editors of its steps work on it all the same.
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { OpenedWorkflow } from '../lib/types.ts';

/** What whoever opened it does for the editor. */
export interface Alone {
  /** Fetches the world around it anew. */
  refresh: () => Promise<OpenedWorkflow['world']>;
  /** What of it is tried out on the item. */
  tried: (definition: Definition) => Definition;
}

/** What stands for the workflow that it is not. */
export const NO_WORKFLOW = {
  id: 0,
  name: '',
  status: 'draft' as const,
  draftRevision: 0,
  liveVersion: null,
  live: null,
  pausedBecause: null,
  pausedAt: null,
  createdAt: 0,
  changedAt: 0,
  beside: [],
} satisfies Partial<OpenedWorkflow>;
