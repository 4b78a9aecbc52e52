import { z } from 'zod';
import { timetableSchema } from '@playa/core/timetable/timetable.ts';
import type { Services } from '../../base/services.ts';
import { brandCalendar, calendarTable, newToken } from '../../calendar/calendar-feed.ts';
import { likelyPosts } from '../../calendar/likely-posts.ts';
import { openCalendar } from '../../calendar/open-calendar.ts';
import { inTransaction } from '../../db/database.ts';
import { writeCsv, writeWorkbook } from '../../sheets/table-files.ts';
import { addAudit } from '../../store/audit.ts';
import { feedTokenOf, setFeedToken } from '../../store/brand-feeds.ts';
import { noteChange } from '../../store/changes.ts';
import { outletBy } from '../../store/outlets.ts';
import { keepTimetable, timetableOr, timetablesOf } from '../../store/timetables.ts';
import { movePost } from '../../workflows/move-post.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { moment, outletKind } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';
import { stageSchema } from './written-posts.ts';

/** The longest span that is shown at once, and the longest in a file. */
const LONGEST = 70 * 86_400_000;
const LONGEST_IN_FILE = 400 * 86_400_000;
const spanQuery = { from: z.coerce.number().int(), to: z.coerce.number().int() };

/** The address under which other calendars read a brand's. */
const addressOf = ({ config }: Services, token: string | null) =>
  token === null ? null : { ics: `${config.origin}/calendar/${token}.ics` };
const addressAnswer = z.object({ feed: z.object({ ics: z.string() }).nullable() });

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
    query: z.object(spanQuery),
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
    async run({ services, brand, query: { from, to } }) {
      if (to <= from || to - from > LONGEST) throw new Problem(422, 'A calendar shows from a day up to ten weeks.');
      return openCalendar(services, brand.id, { from, to });
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/calendar/likely',
    name: 'forecastCalendar',
    says: 'What live workflows will likely post within a span of time, besides what is planned: by what they did on the same weekdays of the last eight weeks.',
    may: 'see',
    query: z.object(spanQuery),
    answer: z.object({
      likely: z.array(
        z
          .object({
            workflow: number,
            name: z.string(),
            outlet: number,
            date: z.iso.date(),
            posts: z.number().meta({ description: 'On average: 0.5 is one every other week.' }),
            at: moment.meta({ description: 'When in the day they usually go.' }),
          })
          .meta({ id: 'LikelyPost' }),
      ),
    }),
    async run({ services, brand, query: { from, to } }) {
      if (to <= from || to - from > LONGEST) throw new Problem(422, 'A calendar shows from a day up to ten weeks.');
      return { likely: await likelyPosts(services, brand.id, { from, to }) };
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
    method: 'get',
    path: '/calendar/file',
    name: 'exportCalendar',
    says: 'A span of the calendar as iCalendar, as a CSV file or as a workbook.',
    may: 'see',
    query: z.object({ ...spanQuery, as: z.enum(['ics', 'csv', 'xlsx']) }),
    answersItself: 'text/calendar',
    answer: null,
    async run({ services, brand, query: { as, ...span }, res }) {
      if (span.to <= span.from || span.to - span.from > LONGEST_IN_FILE)
        throw new Problem(422, 'A file has at most 400 days.');
      res.attachment(`Calendar of ${brand.name}.${as}`);
      if (as === 'ics') return void res.type('text/calendar').send(await brandCalendar(services, brand, span));
      const texts = calendarTable(await openCalendar(services, brand.id, span), brand.timeZone);
      if (as === 'csv') return void res.type('text/csv; charset=utf-8').send(writeCsv(texts));
      const columns = texts[0]!.map(() => ({ type: 'text' as const }));
      res
        .type('application/vnd.openxmlformats-officedocument.spreadsheetml.sheet')
        .send(await writeWorkbook('Calendar', columns, texts));
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/calendar/address',
    name: 'openCalendarAddress',
    says: 'Where other calendars read this one; null when it has no address.',
    may: 'see',
    answer: addressAnswer,
    run: async ({ services, brand }) => ({
      feed: addressOf(services, await feedTokenOf(services.pool, brand.id, 'calendar')),
    }),
  }),
  brandEndpoint({
    method: 'put',
    path: '/calendar/address',
    name: 'setCalendarAddress',
    says: 'Gives the calendar a new address, or takes it back. Whoever knows the address reads what is planned.',
    may: 'connect',
    body: z.object({ on: z.boolean() }),
    answer: addressAnswer,
    async run({ services, brand, body: { on } }) {
      const token = on ? newToken() : null;
      await setFeedToken(services.pool, brand.id, 'calendar', token);
      const deed = { brandId: brand.id, did: 'changed', about: 'brand', name: 'calendar' } as const;
      await addAudit(services.pool, services.actor, { ...deed, became: on ? 'on' : 'off' }, services.clock());
      return { feed: addressOf(services, token) };
    },
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
