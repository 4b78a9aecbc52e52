import { z } from 'zod';
import { actText } from '@playa/core/model/acts.ts';
import { fieldText } from '@playa/core/items/read-field.ts';
import { cutGraphemes } from '@playa/core/text/graphemes.ts';
import { itemTitle } from '@playa/core/items/title.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { timetableSchema } from '@playa/core/timetable/timetable.ts';
import { inTransaction } from '../../db/database.ts';
import { addAudit } from '../../store/audit.ts';
import { noteChange } from '../../store/changes.ts';
import { heldOf } from '../../store/held.ts';
import { itemsById } from '../../store/items.ts';
import { postsOut } from '../../store/logbook.ts';
import { outletBy, outletsOf } from '../../store/outlets.ts';
import { outletsPostedTo, plannedPosts } from '../../store/planned.ts';
import { keepTimetable, timetableOr, timetablesOf } from '../../store/timetables.ts';
import { writtenInCalendar } from '../../posts/in-calendar.ts';
import { approvedBy, writtenByItem } from '../../store/written-posts.ts';
import { worldOf } from '../../world/world.ts';
import { movePost } from '../../workflows/move-post.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { moment, outletKind } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';
import { stageSchema } from './written-posts.ts';

/** No more than this is shown at once: two months of fifty posts a day. */
const MOST = 3000;
const LONGEST = 70 * 86_400_000;

const number = z.number().int();
const postSchema = z
  .object({
    key: z.string().meta({ description: 'The same as long as it is planned, and when it is out.' }),
    state: z.enum([
      'out',
      'deleted',
      'sending',
      'planned',
      'ahead',
      'account',
      'paused',
      'idea',
      'draft',
      'approval',
      'ended',
    ]),
    outlet: number,
    at: moment,
    title: z.string(),
    text: z.string().nullable().meta({ description: 'Null as long as its run has not come to its words.' }),
    url: z.string().nullable(),
    workflowId: number.nullable(),
    workflow: z.string(),
    post: number.nullable().meta({ description: 'Where it was written by hand.' }),
    runId: number.nullable(),
    itemId: number.nullable().meta({ description: 'Null for a post by hand that has not been let go.' }),
    sure: z.boolean().meta({ description: 'Nothing may still keep it from going out there.' }),
    effect: number.nullable().meta({ description: 'By which it is moved; null for what cannot be.' }),
    slot: moment.nullable().meta({ description: 'The time of the timetable that it holds.' }),
  })
  .meta({ id: 'CalendarPost' });

const waitingSchema = z.object({ id: number, at: moment, slot: moment.nullable(), before: moment });

/** What is planned and what went out, by outlet and time; timetables; moving. */
export const calendarEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/calendar',
    name: 'openCalendar',
    says: 'What went out and what is planned within a span of time, with the timetables of all outlets.',
    may: 'see',
    query: z.object({
      from: z.coerce.number().int(),
      to: z.coerce.number().int(),
    }),
    answer: z.object({
      now: moment,
      outlets: z.array(
        z
          .object({
            id: number,
            name: z.string(),
            kind: outletKind,
            used: z.boolean().meta({ description: 'A live workflow posts there.' }),
            timetable: timetableSchema,
            revision: number.meta({ description: 'Of the timetable; 0 where nobody has made one.' }),
          })
          .meta({ id: 'CalendarOutlet' }),
      ),
      posts: z.array(postSchema),
      held: z
        .array(
          z
            .object({
              key: z.string().nullable(),
              runId: number,
              workflowId: number,
              workflow: z.string(),
              itemId: number,
              outlet: number,
              title: z.string(),
              text: z.string().nullable(),
              says: z.string(),
              trouble: z.string(),
              since: moment,
              post: number.nullable().meta({ description: 'Where it was written by hand.' }),
            })
            .meta({ id: 'PostWithoutTime' }),
        )
        .meta({ description: 'Posts that wait for a person, and have no time as long as they do.' }),
      shelf: z.array(
        z
          .object({
            post: number,
            stage: stageSchema,
            title: z.string(),
            outlets: z.array(number),
            missing: z.array(z.object({ what: z.string(), says: z.string() })),
          })
          .meta({ id: 'PostOnShelf', description: 'A post by hand that has no time yet.' }),
      ),
      approves: z.enum(['nobody', 'anybody', 'another']),
      more: z.boolean().meta({ description: 'There is more than is shown.' }),
    }),
    async run({ services: { pool, clock, connectors }, brand, query: { from, to } }) {
      if (to <= from || to - from > LONGEST) throw new Problem(422, 'A calendar shows from a day up to ten weeks.');
      const [outlets, used, timetables, out, planned, held] = await Promise.all([
        outletsOf(pool, brand.id),
        outletsPostedTo(pool, brand.id),
        timetablesOf(pool, brand.id),
        postsOut(pool, brand.id, from, to, MOST),
        plannedPosts(pool, brand.id, { from, to, paused: true }, MOST),
        heldOf(pool, brand.id, 200),
      ]);
      const span = { from, to, now: clock(), most: MOST };
      const world = await worldOf(pool, brand.id, connectors);
      const written = await writtenInCalendar(pool, brand.id, world, span);
      const waits = held.filter(({ act, outletId }) => act?.action === 'publish' && outletId !== null);
      const shown = [...new Set([...out, ...planned, ...waits].map(({ itemId }) => itemId))];
      const [items, byHand] = await Promise.all([itemsById(pool, shown), writtenByItem(pool, brand.id, shown)]);
      // A row has no title of its own: what it says is told by its words rather than by all its columns.
      const title = (item: number, text: string | null) => {
        const fields = items.get(item)?.fields ?? {};
        return fieldText(fields.title) || (text && cutGraphemes(text, 120)) || itemTitle(fields);
      };
      return {
        now: clock(),
        outlets: outlets
          .filter(({ kind, gone, details }) => !gone && !details.watchOnly && KIND_RULES[kind].publishes)
          .map((outlet) => {
            const kept = timetables.get(outlet.id);
            const { id: outletId, name, kind } = outlet;
            return {
              id: outletId,
              name,
              kind,
              used: used.has(outletId) || written.chips.some((chip) => chip.outlet === outletId),
              timetable: timetableOr(kept),
              revision: kept?.revision ?? 0,
            };
          }),
        posts: [
          ...out.map(({ id: entry, outletId, deleted, ...post }) => ({
            ...post,
            key: `out.${entry}`,
            state: deleted ? ('deleted' as const) : ('out' as const),
            outlet: outletId,
            title: title(post.itemId, post.text),
            post: byHand.get(post.itemId) ?? null,
            sure: true,
            effect: null,
            slot: null,
          })),
          ...planned.map(({ outletId, effectId, state, step, ...post }) => ({
            ...post,
            key:
              effectId === null ? `ahead.${post.runId ?? 0}.${post.itemId}.${step}.${outletId}` : `effect.${effectId}`,
            state: state === 'due' ? ('planned' as const) : state,
            outlet: outletId,
            title: title(post.itemId, post.text),
            post: byHand.get(post.itemId) ?? null,
            url: null,
            effect: effectId,
          })),
          ...written.chips.map(({ stage, post, ...chip }) => ({
            ...chip,
            key: `written.${post}.${chip.outlet}`,
            // One that is ready is the outbox's within a moment.
            state: stage === 'going' || stage === 'out' ? ('planned' as const) : stage,
            text: chip.text || null,
            post,
            url: null,
            workflowId: written.workflow,
            workflow: 'Written by hand',
            runId: null,
            itemId: null,
            sure: stage === 'going',
            effect: null,
            slot: null,
          })),
        ],
        held: waits.map((thing) => ({
          key: thing.key,
          runId: thing.runId,
          workflowId: thing.workflowId,
          workflow: thing.workflow,
          itemId: thing.itemId,
          outlet: thing.outletId!,
          title: title(thing.itemId, thing.act && actText(thing.act)),
          text: thing.act ? actText(thing.act) : null,
          says: thing.says,
          trouble: thing.trouble,
          since: thing.since,
          post: byHand.get(thing.itemId) ?? null,
        })),
        shelf: written.shelf,
        approves: await approvedBy(pool, brand.id),
        more: out.length === MOST || planned.length >= MOST,
      };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/calendar/move',
    name: 'movePost',
    says: 'Moves a planned post to another moment, or says what would come of it.',
    may: 'decide',
    body: z.object({
      effect: number,
      to: moment,
      others: z.enum(['stay', 'move']),
      preview: z.boolean(),
    }),
    answer: z.object({
      places: z.array(waitingSchema).meta({ description: 'What goes elsewhere now; what was moved comes first.' }),
      conflicts: z.array(z.enum(['past', 'taken', 'gap', 'day', 'pause'])),
    }),
    run: ({ services, brand, body }) => movePost(services, brand.id, body),
  }),
  brandEndpoint({
    method: 'put',
    path: '/outlets/{id}/timetable',
    name: 'keepTimetable',
    says: 'Keeps when an outlet publishes. What is planned already stays where it is.',
    may: 'run',
    params: z.object({ id }),
    body: z.object({ timetable: timetableSchema, revision: number }),
    answer: z.object({ revision: number }),
    async run({ services: { pool, clock, actor }, brand, params: { id: outletId }, body: { timetable, revision } }) {
      return inTransaction(pool, async (db) => {
        const outlet = await outletBy(db, brand.id, outletId);
        if (!outlet) throw new Problem(404, 'There is no such outlet.');
        const before = (await timetablesOf(db, brand.id)).get(outletId);
        const kept = await keepTimetable(db, brand.id, outletId, timetable, revision);
        if (kept === null)
          throw new Problem(409, 'Somebody has changed this timetable meanwhile.', {
            timetable: timetableOr(before),
            revision: before?.revision ?? 0,
          });
        const deed = {
          brandId: brand.id,
          did: 'changed a timetable',
          about: 'outlet',
          id: outletId,
          name: outlet.name,
          was: before ? JSON.stringify(before.timetable) : null,
          became: JSON.stringify(timetable),
        } as const;
        await addAudit(db, actor, deed, clock());
        await noteChange(db, brand.id, 'workflows', null, clock());
        return { revision: kept };
      });
    },
  }),
];
