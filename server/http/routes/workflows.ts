import { Router } from 'express';
import { z, ZodError } from 'zod';
import { itemTitle } from '@playa/core/items/title.ts';
import { definitionSchema } from '@playa/core/workflow/definition.ts';
import { workflowSentence } from '@playa/core/workflow/sentence.ts';
import { problemsTogether } from '@playa/core/workflow/together.ts';
import { validateDefinition } from '@playa/core/workflow/validate.ts';
import { inTransaction } from '../../db/database.ts';
import type { Services } from '../../base/services.ts';
import { itemsBeingAnswered } from '../../store/runs.ts';
import { itemsById, itemsOf } from '../../store/items.ts';
import * as workflows from '../../store/workflows.ts';
import { noteChange } from '../../store/changes.ts';
import { liveBeside } from '../../workflows/beside.ts';
import { goLive, pause, resume } from '../../workflows/go-live.ts';
import { missedWhilePaused, takeItems } from '../../workflows/taking.ts';
import { worldOf } from '../../world/world.ts';
import { Problem } from '../problem.ts';
import { brandOf, visitorOf } from '../sign-in.ts';

/** Minutes between two things that are taken one after another. */
const MOST_APART = 7 * 24 * 60;

const nameSchema = z.string().trim().min(1, 'A workflow needs a name.').max(120);
const idOf = (text: unknown) => z.coerce.number().int().positive().parse(text);

/** Of a workflow whose draft cannot be read. */
const UNREADABLE = 'Playa cannot read this workflow; another version of Playa may have written it. It stays as it is.';

export function workflowRoutes(services: Services): Router {
  const { pool, clock } = services;
  const router = Router({ mergeParams: true });
  const own = async (brandId: number, id: unknown) => {
    const workflow = await workflows.workflowBy(pool, brandId, idOf(id)).catch((error: unknown) => {
      if (error instanceof ZodError || error instanceof SyntaxError) throw new Problem(409, UNREADABLE);
      throw error;
    });
    if (!workflow) throw new Problem(404, 'There is no such workflow.');
    return workflow;
  };

  router.get('/workflows', async (req, res) => {
    const brand = brandOf(req, res);
    const [all, counts, world, beside] = await Promise.all([
      workflows.workflowsOf(pool, brand.id),
      workflows.workflowCounts(pool, brand.id),
      worldOf(pool, brand.id, services.connectors),
      liveBeside(pool, brand.id),
    ]);
    const listed = all.map(async (workflow) => {
      const live =
        workflow.liveVersion === null
          ? null
          : await workflows.definitionOf(pool, brand.id, workflow.id, workflow.liveVersion).catch(() => null);
      const shown = live ?? workflow.draft;
      return {
        id: workflow.id,
        name: workflow.name,
        status: workflow.status,
        version: workflow.liveVersion,
        pausedBecause: workflow.pausedBecause,
        sentence: workflowSentence(shown, world),
        problems: workflow.unreadable
          ? [{ level: 'harm' as const, step: null, says: UNREADABLE }]
          : [
              ...validateDefinition(shown, world),
              ...problemsTogether({ id: workflow.id, name: workflow.name, definition: shown }, beside, world),
            ],
        unapplied: live !== null && JSON.stringify(live) !== JSON.stringify(workflow.draft),
        ...(counts.get(workflow.id) ?? { runs: 0, posts: 0, others: 0, held: 0, lastAt: null }),
      };
    });
    res.json({ workflows: await Promise.all(listed) });
  });

  router.post('/workflows', async (req, res) => {
    const brand = brandOf(req, res);
    const { name, definition } = z.object({ name: nameSchema, definition: definitionSchema }).parse(req.body);
    const id = await workflows.addWorkflow(pool, brand.id, name, definition, clock());
    await noteChange(pool, brand.id, 'workflows', id, clock());
    res.status(201).json({ id });
  });

  router.get('/workflows/:id', async (req, res) => {
    const brand = brandOf(req, res);
    const workflow = await own(brand.id, req.params.id);
    const world = await worldOf(pool, brand.id, services.connectors);
    res.json({
      ...workflow,
      live:
        workflow.liveVersion === null
          ? null
          : await workflows.definitionOf(pool, brand.id, workflow.id, workflow.liveVersion),
      beside: (await liveBeside(pool, brand.id)).filter((other) => other.id !== workflow.id),
      world: {
        ...world,
        outlets: [...world.outlets.values()],
        watches: [...world.watches.values()],
        colleagues: [...(world.colleagues ?? [])].map(([id, name]) => ({ id, name })),
        snippets: [...(world.snippets ?? [])].map(([name, text]) => ({ name, text })),
        files: [...(world.files ?? new Map()).values()],
      },
    });
  });

  router.put('/workflows/:id/draft', async (req, res) => {
    const brand = brandOf(req, res);
    const workflow = await own(brand.id, req.params.id);
    const draft = z
      .object({ name: nameSchema, definition: definitionSchema, revision: z.number().int().positive() })
      .parse(req.body);
    // Whoever changes all workflows of the brand at this moment may stand in the way: then it is tried again.
    const revision = await inTransaction(pool, async (db) => {
      const made = await workflows.saveDraft(db, brand.id, workflow.id, draft, clock());
      if (made !== null) await noteChange(db, brand.id, 'workflows', workflow.id, clock());
      return made;
    });
    if (revision === null)
      throw new Problem(409, 'This workflow was changed elsewhere meanwhile.', { current: workflow.draftRevision });
    res.json({ revision });
  });

  router.delete('/workflows/:id', async (req, res) => {
    const brand = brandOf(req, res);
    const workflow = await own(brand.id, req.params.id);
    if (!(await workflows.deleteDraft(pool, brand.id, workflow.id)))
      throw new Problem(409, 'It has been live, and its log refers to it. Pause it instead.');
    await noteChange(pool, brand.id, 'workflows', workflow.id, clock());
    res.status(204).end();
  });

  router.post('/workflows/:id/live', async (req, res) => {
    const brand = brandOf(req, res);
    const body = z
      .object({
        revision: z.number().int().positive(),
        last: z.number().int().min(0).max(500).default(0),
        /** Everything published from this moment on, milliseconds since 1970 UTC. */
        since: z.number().int().min(0).nullable().default(null),
        every: z.number().min(0).max(MOST_APART).default(10),
      })
      .parse(req.body);
    const version = await goLive(services, {
      brandId: brand.id,
      workflowId: idOf(req.params.id),
      revision: body.revision,
      userId: visitorOf(res).user.id,
      beginning: { last: body.last, since: body.since, every: body.every },
    });
    res.json({ version });
  });

  router.post('/workflows/:id/pause', async (req, res) => {
    const brand = brandOf(req, res);
    if (!(await pause(services, brand.id, idOf(req.params.id)))) throw new Problem(409, 'It is not live.');
    res.status(204).end();
  });

  // Things that a run of any workflow is about: what is about to be answered is not taken by another.
  router.get('/workflows/:id/busy', async (req, res) => {
    const brand = brandOf(req, res);
    const workflow = await own(brand.id, req.params.id);
    const watches = workflow.draft.sources.flatMap(({ watch }) => watch ?? []);
    const items = await itemsOf(pool, brand.id, watches, 2000);
    const open = await itemsBeingAnswered(
      pool,
      brand.id,
      items.map((item) => item.id),
    );
    res.json({ items: [...open] });
  });

  // What appeared while it was paused, for choosing what it takes when it goes on.
  router.get('/workflows/:id/missed', async (req, res) => {
    const brand = brandOf(req, res);
    const workflow = await own(brand.id, req.params.id);
    const missed = workflow.status === 'paused' ? await missedWhilePaused(pool, workflow) : [];
    res.json({
      pausedAt: workflow.pausedAt,
      missed: missed.map((item) => ({ id: item.id, title: itemTitle(item.fields), at: item.seenAt })),
    });
  });

  router.post('/workflows/:id/resume', async (req, res) => {
    const brand = brandOf(req, res);
    const taking = z
      .object({
        take: z.enum(['all', 'last', 'since', 'none']).default('none'),
        last: z.number().int().min(0).max(2000).default(0),
        since: z.number().int().min(0).nullable().default(null),
        every: z.number().min(0).max(MOST_APART).default(0),
      })
      .parse(req.body ?? {});
    const taken = await resume(services, brand.id, idOf(req.params.id), taking);
    if (taken === null) throw new Problem(409, 'It is not paused.');
    res.json({ taken });
  });

  // Something that no workflow took, taken by one that watches where it appeared.
  router.post('/workflows/:id/take', async (req, res) => {
    const brand = brandOf(req, res);
    const workflow = await own(brand.id, req.params.id);
    const { item: itemId } = z.object({ item: z.number().int().positive() }).parse(req.body);
    if (workflow.status !== 'live' || workflow.liveVersion === null)
      throw new Problem(409, 'Only a live workflow takes something.');
    const definition = await workflows.definitionOf(pool, brand.id, workflow.id, workflow.liveVersion);
    const watches = new Set(definition?.sources.flatMap(({ watch }) => watch ?? []));
    const item = (await itemsById(pool, [itemId])).get(itemId);
    if (!item || !watches.has(item.watchId)) throw new Problem(404, 'This workflow does not watch where it appeared.');
    const taken = await inTransaction(pool, (db) => takeItems(db, workflow, definition, [item], 0, clock()));
    if (taken === 0) throw new Problem(409, 'This workflow has had it already.');
    await noteChange(pool, brand.id, 'runs', workflow.id, clock());
    res.json({ taken });
  });
  return router;
}
