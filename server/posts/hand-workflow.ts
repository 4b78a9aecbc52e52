// The workflow that Playa keeps for posts written by hand.
import type { Queryable } from '../db/database.ts';
import { keptWorkflow, type OwnWorkflow } from '../watch/own-workflow.ts';

/** Whether a post may go out is this field of its item. */
export const GO = 'go';

/** The brand's workflow for posts by hand; made when there is none. Run inside a transaction. */
export const handWorkflow = (db: Queryable, brandId: number, now: number): Promise<OwnWorkflow> =>
  keptWorkflow(db, brandId, 'posts', now);
