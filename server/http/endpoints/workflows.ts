import { z } from 'zod';
import { definitionSchema } from '@playa/core/workflow/definition.ts';
import { workflowSentence } from '@playa/core/workflow/sentence.ts';
import { problemsTogether } from '@playa/core/workflow/together.ts';
import { validateDefinition } from '@playa/core/workflow/validate.ts';
import { inTransaction } from '../../db/database.ts';
import { addAudit, addAuditOnce, auditOf, type Did } from '../../store/audit.ts';
import { noteChange } from '../../store/changes.ts';
import { workflowCounts } from '../../store/counts.ts';
import { definitionOf, liveDefinitions } from '../../store/versions.ts';
import * as workflows from '../../store/workflows.ts';
import { worldOf } from '../../world/world.ts';
import { liveBeside } from '../../workflows/beside.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { byId, cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { doneSchema, madeSchema, moment, phraseSchema, problemSchema, workflowStatus } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';
import { UNREADABLE, own, changeable, params, revision } from './own-workflow.ts';

const name = z.string().trim().min(1, 'A workflow needs a name.').max(120);
/** Typing at a draft is written down once in so many milliseconds. */
const ONE_SITTING = 10 * 60_000;
/** What switches a workflow on or off. */
const SWITCHED: readonly Did[] = ['went live', 'paused', 'let go on'];

const listedSchema = z
  .object({
    id: z.number(),
    name: z.string(),
    status: workflowStatus,
    version: z.number().nullable(),
    pausedBecause: z.string().nullable(),
    sentence: phraseSchema,
    problems: z.array(problemSchema),
    unapplied: z.boolean().meta({ description: 'The draft differs from what is live.' }),
    runs: z.number(),
    posts: z.number(),
    others: z.number().meta({ description: 'Replies, rows, letters and the like.' }),
    held: z.number(),
    lastAt: moment.nullable(),
    lastly: doneSchema.nullable().meta({ description: 'Who let it go live, paused it or let it go on, last.' }),
  })
  .meta({ id: 'ListedWorkflow' });

const openedSchema = z
  .object({
    id: z.number(),
    brandId: z.number(),
    name: z.string(),
    status: workflowStatus,
    draft: definitionSchema,
    draftRevision: z.number(),
    liveVersion: z.number().nullable(),
    live: definitionSchema.nullable(),
    pausedBecause: z.string().nullable(),
    pausedAt: moment.nullable(),
    createdAt: moment,
    changedAt: moment,
  })
  .meta({ id: 'OpenedWorkflow' });

/** What the list says of a workflow: what has not begun does not count as run yet. */
const listedCounts = (counts: ReturnType<Awaited<ReturnType<typeof workflowCounts>>['get']>) => ({
  runs: counts ? counts.runs - counts.new : 0,
  posts: counts?.posts ?? 0,
  others: counts ? counts.answers + counts.others : 0,
  held: counts?.held ?? 0,
});

/** A brand's workflows: drafts, versions, and whether they run. */
export const workflowEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/workflows',
    name: 'listWorkflows',
    says: 'The brand’s workflows, each in a sentence, with how it stands.',
    may: 'see',
    query: pageQuery(byId, 100),
    answer: z.object({ workflows: z.array(listedSchema), ...nextPage }),
    async run({ services, brand, query: { after, most } }) {
      const { pool } = services;
      const [found, beside, counts, last, world] = await Promise.all([
        workflows.workflowsPage(pool, brand.id, after?.after ?? 0, most + 1),
        liveBeside(pool, brand.id),
        workflowCounts(pool, brand.id),
        workflows.lastSent(pool, brand.id),
        worldOf(pool, brand.id, services.connectors),
      ]);
      const { page, next } = cutPage(found, most, (workflow) => ({ after: workflow.id }));
      const definitions = await liveDefinitions(pool, brand.id, page);
      const done = await auditOf(
        pool,
        brand.id,
        'workflow',
        page.map((workflow) => workflow.id),
        { did: SWITCHED },
      );
      const listed = page.map((workflow) => {
        const live = definitions.get(workflow.id) ?? null;
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
          lastly: done.find(({ aboutId }) => aboutId === workflow.id) ?? null,
          ...listedCounts(counts.get(workflow.id)),
          lastAt: last.get(workflow.id) ?? null,
        };
      });
      return { workflows: listed, next };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/workflows',
    name: 'addWorkflow',
    says: 'Makes a draft.',
    may: 'compose',
    body: z.object({ name, definition: definitionSchema }),
    status: 201,
    answer: madeSchema,
    run: ({ services: { pool, clock, actor }, brand, body }) =>
      inTransaction(pool, async (db) => {
        const made = await workflows.addWorkflow(db, brand.id, body.name, body.definition, clock());
        const deed = { brandId: brand.id, did: 'made', about: 'workflow', id: made, name: body.name } as const;
        await addAudit(db, actor, deed, clock());
        await noteChange(db, brand.id, 'workflows', made, clock());
        return { id: made };
      }),
  }),
  brandEndpoint({
    method: 'get',
    path: '/workflows/{id}',
    name: 'openWorkflow',
    says: 'A workflow with its draft and what is live. What they refer to is in the world.',
    may: 'see',
    params,
    answer: openedSchema,
    async run({ services, brand, params: asked }) {
      const { pool } = services;
      const { unreadable: _unreadable, own: _own, ...workflow } = await own(services, brand.id, asked.id);
      const live =
        workflow.liveVersion === null ? null : await definitionOf(pool, brand.id, workflow.id, workflow.liveVersion);
      return { ...workflow, live: live ?? null };
    },
  }),
  brandEndpoint({
    method: 'put',
    path: '/workflows/{id}/draft',
    name: 'saveDraft',
    says: 'Saves a draft over the revision it was made from; 409 with the present one when it was changed meanwhile.',
    may: 'compose',
    params,
    body: z.object({ name, definition: definitionSchema, revision }),
    answer: z.object({ revision: z.number() }),
    async run({ services, brand, params: asked, body }) {
      const { pool, clock, actor } = services;
      const workflow = await changeable(services, brand.id, asked.id);
      // Whoever changes all workflows of the brand at this moment may stand in the way: then it is tried again.
      const made = await inTransaction(pool, async (db) => {
        const saved = await workflows.saveDraft(db, brand.id, workflow.id, body, clock());
        if (saved === null) return null;
        const deed = {
          brandId: brand.id,
          did: 'changed',
          about: 'workflow',
          id: workflow.id,
          name: body.name,
        } as const;
        await addAuditOnce(db, actor, deed, clock(), ONE_SITTING);
        await noteChange(db, brand.id, 'workflows', workflow.id, clock(), saved);
        return saved;
      });
      if (made === null)
        throw new Problem(409, 'This workflow was changed elsewhere meanwhile.', { current: workflow.draftRevision });
      return { revision: made };
    },
  }),
  brandEndpoint({
    method: 'delete',
    path: '/workflows/{id}',
    name: 'deleteWorkflow',
    says: 'Deletes a draft that has never been live.',
    may: 'compose',
    params,
    answer: null,
    async run({ services, brand, params: asked }) {
      const { pool, clock, actor } = services;
      const { id: workflowId, name: called } = await changeable(services, brand.id, asked.id);
      await inTransaction(pool, async (db) => {
        if (!(await workflows.deleteDraft(db, brand.id, workflowId)))
          throw new Problem(409, 'It has been live, and its log refers to it. Pause it instead.');
        const deed = { brandId: brand.id, did: 'deleted', about: 'workflow', id: workflowId, name: called } as const;
        await addAudit(db, actor, deed, clock());
        await noteChange(db, brand.id, 'workflows', workflowId, clock());
      });
    },
  }),
];
