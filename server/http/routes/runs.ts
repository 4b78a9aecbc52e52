import { Router } from 'express';
import { z } from 'zod';
import type { Services } from '../../services.ts';
import { retriesOf } from '../../store/effects.ts';
import { itemsById } from '../../store/items.ts';
import { runsOf } from '../../store/runs.ts';
import { workflowBy } from '../../store/workflows.ts';
import { decide, tryRunAgain } from '../../workflows/decide.ts';
import { Problem } from '../problem.ts';
import { brandOf } from '../sign-in.ts';

const idOf = (text: unknown) => z.coerce.number().int().positive().parse(text);
const decisionSchema = z.discriminatedUnion('do', [
  z.object({ do: z.literal('retry'), text: z.string().max(20_000).optional() }),
  z.object({ do: z.literal('skip') }),
  z.object({
    do: z.literal('itWentOut'),
    url: z
      .url({ protocol: /^https?$/ })
      .max(2000)
      .optional(),
  }),
]);

/** What really ran, and what people decide about it. */
export function runRoutes(services: Services): Router {
  const { pool } = services;
  const router = Router({ mergeParams: true });

  router.get('/workflows/:id/runs', async (req, res) => {
    const brand = brandOf(req, res);
    const id = idOf(req.params.id);
    if (!(await workflowBy(pool, brand.id, id))) throw new Problem(404, 'There is no such workflow.');
    const runs = await runsOf(pool, brand.id, id, 200);
    const items = await itemsById(
      pool,
      runs.map((run) => run.itemId),
    );
    const retries = await retriesOf(
      pool,
      brand.id,
      runs.filter((run) => run.status === 'waiting' || run.status === 'held').map((run) => run.id),
    );
    res.json({
      runs: runs.map(({ state: _state, uuid: _uuid, ...run }) => {
        const item = items.get(run.itemId)!;
        return {
          ...run,
          item: {
            id: item.id,
            watch: item.watchId,
            identity: item.identity,
            publishedAt: item.publishedAt,
            seenAt: item.seenAt,
            fields: item.fields,
          },
          retries: retries.filter((retry) => retry.runId === run.id),
        };
      }),
    });
  });

  router.post('/runs/:id/decide', async (req, res) => {
    const brand = brandOf(req, res);
    const { key, decision } = z.object({ key: z.string().max(160), decision: decisionSchema }).parse(req.body);
    await decide(services, brand.id, idOf(req.params.id), key, decision);
    res.status(204).end();
  });

  router.post('/runs/:id/again', async (req, res) => {
    await tryRunAgain(services, brandOf(req, res).id, idOf(req.params.id));
    res.status(204).end();
  });
  return router;
}
