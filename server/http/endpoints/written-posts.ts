import { z } from 'zod';
import { guessPostMap, importPosts, POST_COLUMNS } from '@playa/core/posts/import-posts.ts';
import { newPost, writtenPostSchema } from '@playa/core/posts/written.ts';
import { stageOf } from '../../posts/in-calendar.ts';
import {
  approvePost,
  changePost,
  deletePost,
  makePost,
  makePosts,
  moveWritten,
  setApproval,
} from '../../posts/keep-post.ts';
import { auditOf } from '../../store/audit.ts';
import { membersOf } from '../../store/users.ts';
import * as posts from '../../store/written-posts.ts';
import * as writtenStanding from '../../store/written-standing.ts';
import { worldOf } from '../../world/world.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { doneSchema, madeSchema, moment } from '../contract/schemas.ts';
import { bodyOf } from '../body.ts';
import { Problem } from '../problem.ts';

/** So large may a file be, bytes; so many posts may it have. */
const FILE_LIMIT = 10 * 1024 * 1024;
const MOST_IMPORTED = 500;
const columnSchema = z.enum(POST_COLUMNS);
const params = z.object({ id });
const revision = z.number().int().positive();
const state = z.enum(posts.POST_STATES);
const approves = z.enum(['nobody', 'anybody', 'another']).meta({
  description:
    'Who has to say yes before a post goes out: nobody, anybody, or somebody else than whose words they are.',
});
export const stageSchema = z.enum(['idea', 'draft', 'approval', 'going', 'out', 'ended']);

/** Posts that people write by hand: from idea to ready, approved, moved. */
export const writtenPostEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/written/new',
    name: 'startWritten',
    says: 'What a new post begins with.',
    may: 'compose',
    answer: z.object({ post: writtenPostSchema, approves }),
    async run({ services: { pool }, brand }) {
      return { post: newPost(), approves: await posts.approvedBy(pool, brand.id) };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/written/{id}',
    name: 'openWritten',
    says: 'A post written by hand, and how far it is.',
    may: 'see',
    params,
    answer: z.object({
      id: z.number(),
      state,
      post: writtenPostSchema,
      revision: z.number(),
      stage: stageSchema,
      out: z.array(z.number()).meta({ description: 'Outlets at which it is out or on its way.' }),
      runId: z.number().nullable(),
      open: z.boolean().meta({ description: 'It is under way: what has not gone yet can be ended.' }),
      by: z.string().nullable().meta({ description: 'Whose words they are.' }),
      mine: z.boolean().meta({ description: 'The words are of whoever asks.' }),
      approval: z.object({ by: z.string(), at: moment, holds: z.boolean() }).nullable(),
      approves,
      history: z.array(doneSchema).meta({ description: 'What people did to it, newest first.' }),
    }),
    async run({ services: { pool }, brand, user, params: asked }) {
      const kept = await posts.writtenPostBy(pool, brand.id, asked.id);
      if (!kept) throw new Problem(404, 'There is no such post.');
      const [standing, by, members, history] = await Promise.all([
        writtenStanding.standingOf(pool, brand.id, kept.itemId === null ? [] : [kept.itemId]),
        posts.approvedBy(pool, brand.id),
        membersOf(pool, brand.id),
        auditOf(pool, brand.id, 'written post', [kept.id]),
      ]);
      const stands = standing(kept.itemId);
      const name = (person: number | null) => members.find((each) => each.id === person)?.name ?? null;
      const { approval } = kept;
      return {
        id: kept.id,
        state: kept.state,
        post: kept.post,
        revision: kept.revision,
        stage: stageOf(kept, stands, by),
        out: stands.out,
        runId: stands.run?.id ?? null,
        open: stands.open,
        by: name(kept.wordedBy),
        mine: kept.wordedBy === user.id,
        approval: approval && { by: name(approval.by) ?? 'somebody', at: approval.at, holds: approval.holds },
        approves: by,
        history,
      };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/written',
    name: 'makeWritten',
    says: 'Writes a post. One that is ready goes out at its time, once somebody said yes where that is asked for.',
    may: 'compose',
    body: z.object({ state, post: writtenPostSchema }),
    status: 201,
    answer: madeSchema,
    run: async ({ services, brand, body }) => ({ id: await makePost(services, brand.id, body) }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/written/import',
    name: 'importPosts',
    says: 'Reads a CSV file or a workbook: shows what post each row would become, or writes all of them, or none.',
    may: 'compose',
    query: z.object({
      map: z
        .string()
        .max(2000)
        .transform((text) => text.split(',').map((each) => columnSchema.safeParse(each).data ?? null))
        .optional()
        .meta({ description: 'What each column of the file says; by their names when left out.' }),
      then: z.enum(['show', 'keep-good']).meta({ description: 'keep-good writes the rows without problems.' }),
    }),
    takes: 'application/octet-stream',
    answer: z.object({
      header: z.array(z.string()),
      map: z.array(columnSchema.nullable()),
      count: z.number(),
      bad: z.number(),
      rows: z
        .array(
          z
            .object({
              line: z.number(),
              state,
              title: z.string(),
              outlets: z.array(z.number()),
              at: moment.nullable(),
              link: z.string(),
              problems: z.array(z.object({ column: columnSchema, says: z.string() })),
            })
            .meta({ id: 'PostRow' }),
        )
        .meta({ description: 'Those with problems first, at most 300.' }),
      made: z.number(),
      approves,
    }),
    async run({ services, brand, query, req }) {
      const { pool, connectors, clock } = services;
      const texts = await services.outside.table(await bodyOf(req, FILE_LIMIT));
      const [header = []] = texts;
      const map = query.map ?? guessPostMap(header);
      const read = importPosts(texts, map, await worldOf(pool, brand.id, connectors), clock());
      if (read.length > MOST_IMPORTED)
        throw new Problem(422, `A file has at most ${MOST_IMPORTED} posts; this one has ${read.length}.`);
      const bad = read.filter((row) => row.problems.length > 0);
      const good = read.filter((row) => row.problems.length === 0);
      if (query.then === 'keep-good' && good.length > 0) await makePosts(services, brand.id, good);
      return {
        header: [...header],
        map: [...map],
        count: read.length,
        bad: bad.length,
        rows: [...bad, ...good].slice(0, 300).map(({ post, ...row }) => ({
          ...row,
          outlets: post.publish.outlets,
          link: post.link,
        })),
        made: query.then === 'show' ? 0 : good.length,
        approves: await posts.approvedBy(pool, brand.id),
      };
    },
  }),
  brandEndpoint({
    method: 'put',
    path: '/written/{id}',
    name: 'changeWritten',
    says: 'Changes a post over the revision that was seen; 409 when somebody else changed it, or part of it is out.',
    may: 'compose',
    params,
    body: z.object({ state, post: writtenPostSchema, revision }),
    answer: z.object({ revision: z.number() }),
    run: async ({ services, brand, params: asked, body: { revision: seen, ...wanted } }) => ({
      revision: (await changePost(services, brand.id, asked.id, seen, wanted)).revision,
    }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/written/{id}/approve',
    name: 'approveWritten',
    says: 'Says yes to a post as it stands; other words need another yes.',
    may: 'decide',
    params,
    body: z.object({ revision }),
    answer: null,
    async run({ services, brand, params: asked, body }) {
      await approvePost(services, brand.id, asked.id, body.revision);
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/written/{id}/move',
    name: 'moveWritten',
    says: 'Gives a post that has not been sent another moment, at one of its outlets or at all.',
    may: 'compose',
    params,
    body: z.object({ outlet: id.nullable(), to: moment }),
    answer: null,
    async run({ services, brand, params: asked, body: { outlet, to } }) {
      await moveWritten(services, brand.id, asked.id, { outlet, at: to });
    },
  }),
  brandEndpoint({
    method: 'delete',
    path: '/written/{id}',
    name: 'deleteWritten',
    says: 'Deletes a post of which nothing has been sent.',
    may: 'compose',
    params,
    answer: null,
    async run({ services, brand, params: asked }) {
      await deletePost(services, brand.id, asked.id);
    },
  }),
  brandEndpoint({
    method: 'put',
    path: '/approval',
    name: 'keepApproval',
    says: 'Keeps who has to say yes to posts written by hand. What is on its way to its time already stays there.',
    may: 'run',
    body: z.object({ by: approves }),
    answer: null,
    async run({ services, brand, body: { by } }) {
      await setApproval(services, brand.id, by);
    },
  }),
];
