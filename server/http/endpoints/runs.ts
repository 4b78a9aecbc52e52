import { z } from 'zod';
import { ACT_INPUTS, type ActName } from '@playa/core/model/acts.ts';
import { traceSchema, type PostCell, type Trace } from '@playa/core/model/cells.ts';
import { slotsIn } from '@playa/core/model/state.ts';
import { fieldsSchema } from '@playa/core/items/item.ts';
import { auditOf } from '../../store/audit.ts';
import { plannedTimes, retriesOf } from '../../store/acts-of-run.ts';
import { NO_COUNTS, workflowCounts } from '../../store/counts.ts';
import { itemsAt, itemsById } from '../../store/items.ts';
import { changedPosts } from '../../store/logbook.ts';
import { runsPage } from '../../store/runs-shown.ts';
import { workflowBy } from '../../store/workflows.ts';
import { decide, tryRunAgain } from '../../workflows/decide.ts';
import { cancelRun, rerun, sentAgain } from '../../workflows/run-actions.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { cursorOf, nextPage, pageQuery } from '../contract/pages.ts';
import { doneSchema, itemSchema, moment } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

/** Where a list of runs goes on. */
const runCursor = z.object({ part: z.number().int().min(0), before: z.number().int().positive() });

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

const countsSchema = z
  .object({
    runs: z.number(),
    held: z.number(),
    waiting: z.number(),
    stopped: z.number(),
    posts: z.number(),
    answers: z.number(),
    others: z.number(),
  })
  .meta({ id: 'RunCounts', description: 'How many runs a workflow has had, and what went out.' });

const runSchema = z
  .object({
    id: z.number(),
    workflowId: z.number(),
    itemId: z.number(),
    itemRevision: z.number(),
    version: z.number(),
    status: z.enum(['new', 'waiting', 'held', 'done', 'stopped', 'cancelled']),
    queued: z.boolean(),
    backfill: z.boolean(),
    thinned: z.boolean(),
    changed: z.boolean(),
    at: z.string().nullable().meta({ description: 'The step it stands at.' }),
    values: fieldsSchema,
    inputs: z.array(
      z.object({
        key: z.string(),
        action: z.enum(Object.keys(ACT_INPUTS) as ActName[]),
        input: z.record(z.string(), z.unknown()),
      }),
    ),
    trace: traceSchema,
    trouble: z.string().nullable(),
    dueAt: moment.nullable(),
    createdAt: moment,
    changedAt: moment,
    item: itemSchema,
    done: z.array(doneSchema).meta({ description: 'What people did with it, newest first.' }),
    retries: z.array(z.object({ runId: z.number(), key: z.string(), dueAt: moment.nullable(), trouble: z.string() })),
  })
  .meta({ id: 'Run', description: 'What really became of one item.' });

/** Posts that somebody has moved say when they go now. */
function withTimes(trace: Trace, planned: ReadonlyMap<string, number>): Trace {
  if (planned.size === 0) return trace;
  return Object.fromEntries(
    Object.entries(trace).map(([place, cell]) => {
      if (cell.kind !== 'posts') return [place, cell];
      const posts = cell.posts.map((post) => {
        const at = post.key === undefined ? undefined : planned.get(post.key);
        // Why it was given the time it had says nothing of the one it has now.
        return at === undefined || at === post.at ? post : { ...post, at, kept: undefined };
      });
      return [place, { ...cell, posts }];
    }),
  );
}

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

export const one = z.object({ id });

/** What really ran, and what people decide about it. */
export const runEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/workflows/{id}/runs',
    name: 'listRuns',
    says: 'A workflow’s runs: those that wait for something first, then the newest.',
    may: 'see',
    params: one,
    query: pageQuery(runCursor, 200, 60),
    answer: z.object({ counts: countsSchema, runs: z.array(runSchema), ...nextPage }),
    async run({ services: { pool }, brand, params, query }) {
      if (!(await workflowBy(pool, brand.id, params.id))) throw new Problem(404, 'There is no such workflow.');
      const { runs, next } = await runsPage(pool, brand.id, params.id, query.most, query.after);
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
      const planned = await plannedTimes(
        pool,
        brand.id,
        runs.map((run) => run.id),
      );
      const retries = await retriesOf(
        pool,
        brand.id,
        runs.filter((run) => run.status === 'waiting' || run.status === 'held').map((run) => run.id),
      );
      const done = await auditOf(
        pool,
        brand.id,
        'run',
        runs.map((run) => run.id),
      );
      return {
        counts: countsSchema.parse((await workflowCounts(pool, brand.id, params.id)).get(params.id) ?? NO_COUNTS),
        next: next && cursorOf(next),
        runs: runs.map(({ state, uuid: _uuid, orderHash: _hash, brandId: _brand, was: _was, ...run }) => {
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
            done: done.filter((each) => each.aboutId === run.id),
            retries: retries.filter((retry) => retry.runId === run.id),
            trace: withTimes(withChanges(run.trace, changed), planned),
          };
        }),
      };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/runs/{id}/decide',
    name: 'decide',
    says: 'Says what happens to something that is held.',
    may: 'decide',
    params: one,
    body: z.object({ key: z.string().max(240), decision: decisionSchema }),
    answer: null,
    run: ({ services, brand, params, body }) => decide(services, brand.id, params.id, body.key, body.decision),
  }),
  brandEndpoint({
    method: 'post',
    path: '/runs/{id}/again',
    name: 'tryRunAgain',
    says: 'Has a run that Playa could not take further tried again.',
    may: 'decide',
    params: one,
    answer: null,
    run: ({ services, brand, params }) => tryRunAgain(services, brand.id, params.id),
  }),
  brandEndpoint({
    method: 'post',
    path: '/runs/{id}/cancel',
    name: 'cancelRun',
    says: 'Ends a run; what is not sent yet is not sent.',
    may: 'decide',
    params: one,
    answer: null,
    run: ({ services, brand, params }) => cancelRun(services, brand.id, params.id),
  }),
  brandEndpoint({
    method: 'get',
    path: '/runs/{id}/rerun/{step}',
    name: 'previewRerun',
    says: 'What running again from a step would send a second time.',
    may: 'see',
    params: z.object({ id, step: z.string().max(60) }),
    answer: z.object({
      sent: z.array(
        z.object({
          step: z.string(),
          action: z.string(),
          outlet: z.string().nullable(),
          at: moment,
          url: z.string().nullable(),
        }),
      ),
    }),
    run: async ({ services, brand, params }) => ({
      sent: await sentAgain(services, brand.id, params.id, params.step),
    }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/runs/{id}/rerun',
    name: 'rerun',
    says: 'Runs again from a step that the run had reached.',
    may: 'run',
    params: one,
    body: z.object({ from: z.string().max(60) }),
    answer: null,
    run: ({ services, brand, params, body }) => rerun(services, brand.id, params.id, body.from),
  }),
];
