import { Router } from 'express';
import { z } from 'zod';
import type { PostCell, Trace } from '@playa/core/model/cells.ts';
import { slotsIn } from '@playa/core/model/state.ts';
import type { Services } from '../../base/services.ts';
import { changedPosts } from '../../store/logbook.ts';
import { retriesOf } from '../../store/effects.ts';
import { itemsAt, itemsById } from '../../store/items.ts';
import { noteChange } from '../../store/changes.ts';
import { dropBackfill, openRunCounts, runCounts, runsOf } from '../../store/runs.ts';
import { cancelRun, moveRuns, rerun, sentAgain } from '../../workflows/run-actions.ts';
import { workflowBy } from '../../store/workflows.ts';
import { decide, tryRunAgain } from '../../workflows/decide.ts';
import { Problem } from '../problem.ts';
import { brandOf } from '../sign-in.ts';

const idOf = (text: unknown) => z.coerce.number().int().positive().parse(text);
const decisionSchema = z.discriminatedUnion('do', [
  z.object({ do: z.literal('retry'), text: z.string().max(20_000).optional(), input: z.unknown().optional() }),
  z.object({ do: z.literal('end') }),
  z.object({ do: z.literal('skip') }),
  z.object({
    do: z.literal('itWentOut'),
    url: z
      .url({ protocol: /^https?$/ })
      .max(2000)
      .optional(),
  }),
]);

/** What posts of a run say now, where they were edited or deleted since they went out. */
function withChanges(trace: Trace, changed: Awaited<ReturnType<typeof changedPosts>>): Trace {
  const changes = new Map(changed.map((each) => [each.key, each]));
  const now = (post: PostCell): PostCell => {
    const change = changes.get(post.key ?? '');
    if (!change) return post;
    const { edited, deleted, text } = change;
    return {
      ...post,
      // Markup would say what it said before.
      ...(edited ? { text, more: { ...post.more, markup: undefined }, edited } : {}),
      ...(deleted ? { deleted, url: undefined } : {}),
    };
  };
  if (changes.size === 0) return trace;
  return Object.fromEntries(
    Object.entries(trace).map(([place, cell]) => [
      place,
      cell.kind === 'posts' ? { ...cell, posts: cell.posts.map(now) } : cell,
    ]),
  );
}

/** What really ran, and what people decide about it. */
export function runRoutes(services: Services): Router {
  const { pool } = services;
  const router = Router({ mergeParams: true });

  router.get('/workflows/:id/runs', async (req, res) => {
    const brand = brandOf(req, res);
    const id = idOf(req.params.id);
    if (!(await workflowBy(pool, brand.id, id))) throw new Problem(404, 'There is no such workflow.');
    const runs = await runsOf(pool, brand.id, id, 200);
    // Each as it is to its run: what changed since, the run may not have heard of.
    const items = await itemsAt(pool, runs);
    const newest = await itemsById(
      pool,
      runs.map((run) => run.itemId),
    );
    const changed = await changedPosts(
      pool,
      brand.id,
      runs.map((run) => run.id),
    );
    const retries = await retriesOf(
      pool,
      brand.id,
      runs.filter((run) => run.status === 'waiting' || run.status === 'held').map((run) => run.id),
    );
    res.json({
      counts: await runCounts(pool, brand.id, id),
      runs: runs.map(({ state, uuid: _uuid, orderHash: _hash, ...run }) => {
        const item = items.get(`${run.itemId}.${run.itemRevision}`) ?? newest.get(run.itemId)!;
        return {
          ...run,
          at: state?.root.at ?? null,
          values: state?.root.values ?? {},
          inputs: state
            ? slotsIn(state)
                .filter((slot) => slot.status === 'held')
                .map(({ key, action, input }) => ({ key, action, input }))
            : [],
          item: {
            id: item.id,
            watch: item.watchId,
            identity: item.identity,
            publishedAt: item.publishedAt,
            seenAt: item.seenAt,
            fields: item.fields,
          },
          retries: retries.filter((retry) => retry.runId === run.id),
          trace: withChanges(run.trace, changed),
        };
      }),
    });
  });

  router.post('/runs/:id/decide', async (req, res) => {
    const brand = brandOf(req, res);
    const { key, decision } = z.object({ key: z.string().max(240), decision: decisionSchema }).parse(req.body);
    await decide(services, brand.id, idOf(req.params.id), key, decision);
    res.status(204).end();
  });

  router.post('/runs/:id/again', async (req, res) => {
    await tryRunAgain(services, brandOf(req, res).id, idOf(req.params.id));
    res.status(204).end();
  });

  router.post('/runs/:id/cancel', async (req, res) => {
    await cancelRun(services, brandOf(req, res).id, idOf(req.params.id));
    res.status(204).end();
  });

  router.get('/runs/:id/rerun/:step', async (req, res) => {
    const sent = await sentAgain(services, brandOf(req, res).id, idOf(req.params.id), String(req.params.step));
    res.json({ sent });
  });

  router.post('/runs/:id/rerun', async (req, res) => {
    const { from } = z.object({ from: z.string().max(60) }).parse(req.body);
    await rerun(services, brandOf(req, res).id, idOf(req.params.id), from);
    res.status(204).end();
  });

  router.get('/workflows/:id/open', async (req, res) => {
    res.json(await openRunCounts(pool, brandOf(req, res).id, idOf(req.params.id)));
  });

  router.post('/workflows/:id/move', async (req, res) => {
    res.json(await moveRuns(services, brandOf(req, res).id, idOf(req.params.id)));
  });

  router.delete('/workflows/:id/backfill', async (req, res) => {
    const brand = brandOf(req, res);
    const dropped = await dropBackfill(pool, brand.id, idOf(req.params.id));
    await noteChange(pool, brand.id, 'runs', idOf(req.params.id), services.clock());
    res.json({ dropped });
  });
  return router;
}
