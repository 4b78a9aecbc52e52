import { itemTitle } from '@playa/core/items/title.ts';
import { z } from 'zod';
import { inTransaction } from '../../db/database.ts';
import { addAudit } from '../../store/audit.ts';
import { noteChange } from '../../store/changes.ts';
import { itemsById } from '../../store/items.ts';
import { itemsUnderWay } from '../../store/runs-shown.ts';
import { definitionOf } from '../../store/versions.ts';
import { goLive, pause, resume } from '../../workflows/go-live.ts';
import { missedWhilePaused, takeItems } from '../../workflows/taking.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { moment } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';
import { changeable, own, params, revision } from './own-workflow.ts';

/** Minutes between two things that are taken one after another. */
export const MOST_APART = 7 * 24 * 60;
/** Whether workflows run: going live, pausing, going on, and what they take of what appeared meanwhile. */
export const goingEndpoints = [
  brandEndpoint({
    method: 'post',
    path: '/workflows/{id}/live',
    name: 'goLive',
    says: 'Lets a draft go live, or applies it, beginning with a part of the past.',
    may: 'run',
    params,
    body: z.object({
      revision,
      last: z.number().int().min(0).max(500).default(0),
      since: moment
        .int()
        .min(0)
        .nullable()
        .default(null)
        .meta({ description: 'Everything published from this moment on.' }),
      every: z.number().min(0).max(MOST_APART).default(10).meta({ description: 'Minutes between two.' }),
    }),
    answer: z.object({ version: z.number() }),
    async run({ services, brand, user, params: asked, body: { revision: of, ...beginning } }) {
      const { id: workflowId } = await changeable(services, brand.id, asked.id);
      const request = { brandId: brand.id, workflowId, revision: of, userId: user.id, beginning };
      return { version: await goLive(services, request) };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/workflows/{id}/pause',
    name: 'pauseWorkflow',
    says: 'Pauses a live workflow: nothing more goes out, and what appears is kept.',
    may: 'run',
    params,
    answer: null,
    async run({ services, brand, params: asked }) {
      if (!(await pause(services, brand.id, asked.id))) throw new Problem(409, 'It is not live.');
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/workflows/{id}/busy',
    name: 'listBusyItems',
    says: 'Things at its sources that a run of any workflow is about: none of them is taken by another.',
    may: 'see',
    params,
    answer: z.object({ items: z.array(z.number()) }),
    async run({ services, brand, params: asked }) {
      const { pool } = services;
      const workflow = await own(services, brand.id, asked.id);
      const watches = workflow.draft.sources.flatMap(({ watch }) => watch ?? []);
      return { items: await itemsUnderWay(pool, brand.id, watches, 5000) };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/workflows/{id}/missed',
    name: 'listMissed',
    says: 'What appeared while a workflow was paused, for choosing what it takes when it goes on.',
    may: 'see',
    params,
    answer: z.object({
      pausedAt: moment.nullable(),
      missed: z.array(z.object({ id: z.number(), title: z.string(), at: moment })),
    }),
    async run({ services, brand, params: asked }) {
      const workflow = await own(services, brand.id, asked.id);
      const missed =
        workflow.status === 'paused' ? await missedWhilePaused(services.pool, workflow, services.clock()) : [];
      return {
        pausedAt: workflow.pausedAt,
        missed: missed.map((item) => ({ id: item.id, title: itemTitle(item.fields), at: item.seenAt })),
      };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/workflows/{id}/resume',
    name: 'resumeWorkflow',
    says: 'Lets a paused workflow go on, with a part of what appeared meanwhile.',
    may: 'run',
    params,
    body: z
      .object({
        take: z.enum(['all', 'last', 'since', 'none']).default('none'),
        last: z.number().int().min(0).max(2000).default(0),
        since: moment.int().min(0).nullable().default(null),
        every: z.number().min(0).max(MOST_APART).default(0).meta({ description: 'Minutes between two.' }),
      })
      .prefault({}),
    answer: z.object({ taken: z.number() }),
    async run({ services, brand, params: asked, body }) {
      const taken = await resume(services, brand.id, asked.id, body);
      if (taken === null) throw new Problem(409, 'It is not paused.');
      return { taken };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/workflows/{id}/take',
    name: 'takeItem',
    says: 'Has a live workflow take something that no workflow took.',
    may: 'run',
    params,
    body: z.object({ item: z.number().int().positive() }),
    answer: z.object({ taken: z.number() }),
    async run({ services, brand, params: asked, body }) {
      const { pool, clock } = services;
      const workflow = await own(services, brand.id, asked.id);
      if (workflow.status !== 'live' || workflow.liveVersion === null)
        throw new Problem(409, 'Only a live workflow takes something.');
      const definition = await definitionOf(pool, brand.id, workflow.id, workflow.liveVersion);
      const watches = new Set(definition?.sources.flatMap(({ watch }) => watch ?? []));
      const item = (await itemsById(pool, [body.item])).get(body.item);
      if (!item || !watches.has(item.watchId))
        throw new Problem(404, 'This workflow does not watch where it appeared.');
      const taken = await inTransaction(pool, async (db) => {
        const count = await takeItems(db, workflow, definition, [item], 0, clock());
        if (count === 0) throw new Problem(409, 'This workflow has had it already.');
        const deed = { brandId: brand.id, did: 'took', about: 'workflow', id: workflow.id } as const;
        await addAudit(db, services.actor, { ...deed, became: itemTitle(item.fields) }, clock());
        return count;
      });
      await noteChange(pool, brand.id, 'runs', workflow.id, clock());
      return { taken };
    },
  }),
];
