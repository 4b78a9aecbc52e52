import { z } from 'zod';
import { DESK_KINDS } from '@playa/core/desk/entry.ts';
import { TONES } from '@playa/core/said/tone.ts';
import { CALL_BACK, callBack, sendOff } from '../../desk/send.ts';
import { tendDesk } from '../../desk/tend.ts';
import { auditOf } from '../../store/audit.ts';
import { closeEntry, openEntry } from '../../store/desk-tending.ts';
import * as shown from '../../store/desk-shown.ts';
import * as deskCounts from '../../store/desk-counts.ts';
import { noteChange } from '../../store/changes.ts';
import { membersOf } from '../../store/users.ts';
import { outletsOf } from '../../store/outlets.ts';
import { labelsInUse, contactBy } from '../../store/contacts-shown.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { cursorOf, nextPage, pageQuery } from '../contract/pages.ts';
import { moment } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';
import { contactSchema } from './contacts.ts';
import { entrySchema, around, entryAnswer, answersThere, conversationSchema, conversationOf } from './desk-answer.ts';

const PAGE = 50;
/** So many things are done at once. */
const MOST = 200;
/** How long an entry stays open in somebody's name without a sign of life, milliseconds. */
const OPEN_FOR = 60_000;

/** Of one person, in one file. */
const MOST_EXPORTED = 10_000;

const items = z.array(id).min(1).max(MOST);
/** What people wrote to the brand, and answering it. */
export const deskEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/desk',
    name: 'openDesk',
    says: 'What people wrote to the brand beside what would be answered, in pages.',
    may: 'see',
    query: pageQuery(z.object({ risk: z.number(), at: z.number(), id: z.number() }), PAGE).extend({
      shelf: z.enum(shown.DESK_SHELVES).default('open').meta({
        description: 'open: waits for an answer; later: put off; answered; left: ignored, deleted, or from before.',
      }),
      kind: z.enum(DESK_KINDS).optional(),
      outlet: id.optional(),
      stars: z.coerce.number().int().min(1).max(5).optional(),
      tone: z.enum(TONES).optional(),
      language: z.string().max(8).optional(),
      label: z.string().max(60).optional(),
      assigned: id.optional(),
      words: z.string().max(200).optional(),
      order: z.enum(['oldest', 'newest', 'atRisk']).optional().meta({
        description: 'Left out: the oldest first where they wait, else the newest.',
      }),
    }),
    answer: z
      .object({
        now: moment,
        callBack: z.number().meta({ description: 'Milliseconds within which an answer can be called back.' }),
        entries: z.array(entrySchema),
        counts: z
          .object({ open: z.number(), later: z.number() })
          .meta({ description: 'How many wait, and are put off; no more than a thousand are counted.' }),
        outlets: z.array(z.object({ id, name: z.string() })),
        members: z.array(z.object({ id, name: z.string() })),
        labels: z.array(z.string()).meta({ description: 'Labels that people of the brand have, the most used first.' }),
        ...nextPage,
      })
      .meta({ id: 'Desk' }),
    async run({ services: { pool, clock }, brand, query }) {
      const now = clock();
      const { after, most, outlet, assigned, ...rest } = query;
      const waits = rest.shelf === 'open' || rest.shelf === 'later';
      const asked = { ...rest, order: rest.order ?? (waits ? ('oldest' as const) : ('newest' as const)) };
      const [page, counts, known, labels] = await Promise.all([
        shown.deskPage(
          pool,
          brand.id,
          { ...asked, outletId: outlet, assignedTo: assigned },
          { after, most: most + 1, now },
        ),
        deskCounts.countDesk(pool, brand.id, now),
        around(pool, brand.id),
        labelsInUse(pool, brand.id),
      ]);
      const entries = page.slice(0, most);
      const last = entries.at(-1);
      return {
        now,
        callBack: CALL_BACK,
        entries: entries.map((entry) => entryAnswer(entry, known)),
        counts,
        outlets: known.outlets.filter(answersThere).map(({ id: each, name }) => ({ id: each, name })),
        members: [...known.members],
        labels: labels.map(({ label }) => label),
        next: last && page.length > most ? cursorOf({ risk: last.risk, at: last.saidAt, id: last.itemId }) : null,
      };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/desk/entries/{item}',
    name: 'openDeskEntry',
    says: 'One entry with the whole conversation, and the person.',
    may: 'see',
    params: z.object({ item: id }),
    answer: conversationSchema.extend({ entry: entrySchema }),
    async run({ services: { pool, clock }, brand, params: { item } }) {
      const [entry] = await shown.shownEntries(pool, brand.id, [item], clock());
      if (!entry) throw new Problem(404, 'This is not on the desk.');
      const [known, conversation, history] = await Promise.all([
        around(pool, brand.id),
        conversationOf(pool, brand.id, entry.contactId, clock()),
        auditOf(pool, brand.id, 'desk', [item]),
      ]);
      const alone = entry.contactId === null ? [entryAnswer(entry, known)] : conversation.conversation;
      return { ...conversation, conversation: alone, entry: entryAnswer(entry, known), history };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/contacts/{contact}',
    name: 'openContact',
    says: 'Somebody who wrote to the brand, with everything they wrote and what was done with them.',
    may: 'see',
    params: z.object({ contact: id }),
    answer: conversationSchema,
    async run({ services: { pool, clock }, brand, params: { contact } }) {
      const read = await conversationOf(pool, brand.id, contact, clock());
      if (!read.contact) throw new Problem(404, 'There is no such person.');
      return { ...read, history: await auditOf(pool, brand.id, 'contact', [contact]) };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/contacts/{contact}/export',
    name: 'exportContact',
    says: 'Everything that is known of somebody, to give them: what they wrote, what was answered and what was done.',
    may: 'see',
    params: z.object({ contact: id }),
    answer: z.object({
      exportedAt: moment,
      contact: contactSchema,
      wrote: z.array(
        z.object({
          kind: z.enum(DESK_KINDS),
          at: moment,
          place: z.string(),
          text: z.string(),
          stars: z.number().nullable(),
          link: z.string(),
          answer: z.string().nullable(),
          answeredAt: moment.nullable(),
        }),
      ),
      done: z.array(z.object({ workflow: z.string(), action: z.string(), text: z.string(), at: moment })),
    }),
    async run({ services: { pool, clock }, brand, params: { contact } }) {
      const now = clock();
      const about = await contactBy(pool, brand.id, contact);
      if (!about) throw new Problem(404, 'There is no such person.');
      const [entries, done, outlets] = await Promise.all([
        shown.conversationWith(pool, brand.id, about.id, { now, most: MOST_EXPORTED }),
        shown.doneWith(pool, brand.id, about.id, MOST_EXPORTED),
        outletsOf(pool, brand.id),
      ]);
      const place = (outlet: number | null) => outlets.find((each) => each.id === outlet)?.name ?? '';
      return {
        exportedAt: now,
        contact: about,
        wrote: entries.map(({ kind, saidAt, outletId, text, stars, link, answer }) => ({
          ...{ kind, at: saidAt, place: place(outletId), text, stars, link },
          ...{ answer: answer?.text ?? null, answeredAt: answer?.at ?? null },
        })),
        done: done.map(({ workflow, action, text, at }) => ({ workflow, action, text, at })),
      };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/desk/answers',
    name: 'sendAnswers',
    says: 'Sends answers off: each goes after a moment in which it can be called back.',
    may: 'decide',
    body: z.object({
      answers: z
        .array(
          z.object({
            itemId: id,
            text: z.string().max(20_000),
            held: z.object({ runId: id, key: z.string().max(240) }).nullable(),
            seen: z
              .object({ text: z.string().max(100_000), answered: z.boolean() })
              .meta({ description: 'What whoever answers has seen: it is refused when that has changed.' }),
          }),
        )
        .min(1)
        .max(MOST),
    }),
    status: 202,
    answer: z.object({
      dueAt: moment,
      refused: z.array(z.object({ itemId: id, why: z.string() })),
    }),
    async run({ services, brand, user, body: { answers } }) {
      const dueAt = services.clock() + CALL_BACK;
      return { dueAt, refused: await sendOff(services, brand.id, user.id, answers) };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/desk/answers/back',
    name: 'callAnswersBack',
    says: 'Calls answers back that have not gone yet.',
    may: 'decide',
    body: z.object({ items }),
    answer: z.object({ back: z.array(id) }),
    run: async ({ services, brand, body }) => ({ back: await callBack(services, brand.id, body.items) }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/desk/tend',
    name: 'tendDesk',
    says: 'Leaves entries without an answer, takes them up again, puts them off, gives them to a colleague, keeps a draft.',
    may: 'decide',
    body: z.object({
      items,
      tend: z.discriminatedUnion('do', [
        z.object({ do: z.literal('ignore') }),
        z.object({ do: z.literal('reopen') }),
        z.object({ do: z.literal('snooze'), until: moment }),
        z.object({ do: z.literal('assign'), to: id.nullable() }),
        z.object({ do: z.literal('keep'), text: z.string().max(20_000) }),
      ]),
    }),
    answer: z.object({ done: z.array(id) }),
    run: async ({ services, brand, body: { items: of, tend } }) => ({
      done: await tendDesk(services, brand.id, of, tend),
    }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/desk/entries/{item}/open',
    name: 'openForAnswering',
    says: 'Has an entry open in one’s own name, so that two people do not answer the same one; said again to keep it.',
    may: 'decide',
    params: z.object({ item: id }),
    body: z.object({
      open: z.boolean(),
      over: z.boolean().optional().meta({ description: 'Also when a colleague has it open.' }),
    }),
    answer: z.object({ openedBy: z.object({ id, name: z.string() }).nullable() }),
    async run({ services: { pool, clock }, brand, user, params: { item }, body: { open, over = false } }) {
      const now = clock();
      if (!open) await closeEntry(pool, brand.id, item, user.id);
      const by = open
        ? await openEntry(pool, brand.id, item, { userId: user.id, now, until: now + OPEN_FOR, over })
        : null;
      await noteChange(pool, brand.id, 'desk', item, now);
      const members = by === null ? [] : await membersOf(pool, brand.id);
      return { openedBy: members.find((each) => each.id === by) ?? null };
    },
  }),
];
