import { z } from 'zod';
import { inTransaction } from '../../db/database.ts';
import { addAudit } from '../../store/audit.ts';
import { noteChange } from '../../store/changes.ts';
import { dropBackfill } from '../../store/run-times.ts';
import { openRunCounts } from '../../store/runs-shown.ts';
import { moveRuns } from '../../workflows/run-actions.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { one } from './runs.ts';

/** What is still open of a workflow: moved to its newest version, or let go of. */
export const openRunEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/workflows/{id}/open',
    name: 'countOpenRuns',
    says: 'How many runs of a workflow have not ended, by how they stand.',
    may: 'see',
    params: one,
    answer: z.object({
      new: z.number(),
      waiting: z.number(),
      held: z.number(),
      backfill: z.number(),
      old: z.number().meta({ description: 'On an older version.' }),
    }),
    run: ({ services, brand, params }) => openRunCounts(services.pool, brand.id, params.id),
  }),
  brandEndpoint({
    method: 'post',
    path: '/workflows/{id}/move',
    name: 'moveRuns',
    says: 'Brings open runs to the newest version, where it has the step they stand at.',
    may: 'run',
    params: one,
    answer: z.object({ moved: z.number(), kept: z.number() }),
    run: ({ services, brand, params }) => moveRuns(services, brand.id, params.id),
  }),
  brandEndpoint({
    method: 'delete',
    path: '/workflows/{id}/backfill',
    name: 'dropBackfill',
    says: 'Lets go of what is still to come of the past that the workflow began with.',
    may: 'run',
    params: one,
    answer: z.object({ dropped: z.number() }),
    run: ({ services: { pool, clock, actor }, brand, params }) =>
      inTransaction(pool, async (db) => {
        const dropped = await dropBackfill(db, brand.id, params.id);
        const deed = { brandId: brand.id, did: 'let go of the past', about: 'workflow', id: params.id } as const;
        if (dropped > 0) await addAudit(db, actor, { ...deed, became: String(dropped) }, clock());
        await noteChange(db, brand.id, 'runs', params.id, clock());
        return { dropped };
      }),
  }),
];
