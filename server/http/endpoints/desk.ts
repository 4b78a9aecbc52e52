import { z } from 'zod';
import { DESK_KINDS } from '@playa/core/desk/entry.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { wordRules } from '@playa/core/outlets/length.ts';
import { FORMS } from '@playa/core/said/form.ts';
import { TONES } from '@playa/core/said/tone.ts';
import { ACT_INPUTS, type ActName } from '@playa/core/model/acts.ts';
import { POLICY_DOES, policySchema, USUAL_POLICY } from '@playa/core/desk/policy.ts';
import { revisionOf } from '../../db/revision.ts';
import { keepPolicy, tryPolicy } from '../../desk/policy.ts';
import { CALL_BACK, callBack, sendOff } from '../../desk/send.ts';
import { deskSources, listenAt } from '../../desk/sources.ts';
import { tendDesk } from '../../desk/tend.ts';
import { auditOf } from '../../store/audit.ts';
import { DESK_STATES } from '../../store/desk.ts';
import { closeEntry, openEntry } from '../../store/desk-tending.ts';
import * as shown from '../../store/desk-shown.ts';
import { noteChange } from '../../store/changes.ts';
import { membersOf, policyOf } from '../../store/people.ts';
import { outletsOf, outletsPage, type Outlet } from '../../store/outlets.ts';
import { labelsInUse, personBy } from '../../store/persons-shown.ts';
import { hastenDesk } from '../../store/watch-times.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { byId, cursorOf, cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { doneSchema, moment, outletKind, revision, seenRevision } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';
import { personSchema } from './people.ts';
import type { Proposed } from '../../store/desk-besides.ts';

const PAGE = 50;
/** So many things are done at once. */
const MOST = 200;
/** How long an entry stays open in somebody's name without a sign of life, milliseconds. */
const OPEN_FOR = 60_000;

/** Of one person, in one file. */
const MOST_EXPORTED = 10_000;

/** So much of a trial is shown. */
const TRIED_SHOWN = 300;

const items = z.array(id).min(1).max(MOST);
const proposedSchema = z
  .object({
    runId: id,
    key: z.string().nullable().meta({ description: 'To decide by; null for what is on its way.' }),
    workflow: z.string(),
    workflowId: id,
    paused: z.boolean().meta({ description: 'Nothing goes out while the workflow is paused.' }),
    text: z.string().nullable(),
    says: z.string().meta({ description: 'Why it is held.' }),
    trouble: z.string().nullable(),
    at: moment.nullable().meta({ description: 'When what is on its way goes.' }),
    action: z.enum(Object.keys(ACT_INPUTS) as ActName[]).nullable(),
    input: z.record(z.string(), z.unknown()).nullable(),
  })
  .meta({ id: 'Proposed', description: 'What a workflow would answer.' });

const entrySchema = z
  .object({
    itemId: id,
    kind: z.enum(DESK_KINDS),
    text: z.string(),
    stars: z.number().nullable(),
    person: z.object({ id: id.nullable(), name: z.string(), labels: z.array(z.string()), leftAlone: z.boolean() }),
    outletId: id.nullable(),
    outlet: z.string(),
    outletKind: outletKind.nullable(),
    limit: z.number().nullable().meta({ description: 'Characters that an answer may have.' }),
    link: z.string(),
    about: z.object({ title: z.string(), link: z.string(), picture: z.string() }).nullable(),
    nested: z.boolean(),
    form: z.enum(FORMS),
    language: z.string(),
    tone: z.enum(TONES).nullable(),
    question: z.boolean(),
    saidAt: moment,
    risk: z.number().int().min(0).max(2).meta({ description: '0 is looked at first: few stars, cross words.' }),
    state: z.enum(DESK_STATES),
    answer: z
      .object({
        text: z.string(),
        by: z.enum(['workflow', 'person', 'there']),
        user: z.string().nullable(),
        at: moment,
      })
      .nullable(),
    draft: z.string().nullable().meta({ description: 'What somebody typed and has not sent.' }),
    trouble: z.string().nullable().meta({ description: 'Why it could not be sent.' }),
    assignedTo: z.object({ id, name: z.string() }).nullable(),
    snoozedUntil: moment.nullable(),
    openedBy: z.object({ id, name: z.string() }).nullable().meta({ description: 'Who is answering it.' }),
    held: proposedSchema.nullable(),
    coming: proposedSchema.nullable(),
    sending: z.object({ text: z.string(), by: z.string(), dueAt: moment }).nullable(),
  })
  .meta({ id: 'DeskEntry', description: 'Something that somebody wrote to the brand, and what we would answer.' });
type EntryAnswer = z.input<typeof entrySchema>;

interface Around {
  outlets: readonly Outlet[];
  members: readonly { id: number; name: string }[];
}

function proposed(of: Proposed | null): z.input<typeof proposedSchema> | null {
  if (!of) return null;
  const { act, ...rest } = of;
  return { ...rest, action: act?.action ?? null, input: act?.input ?? null };
}

function entryAnswer(entry: shown.ShownEntry, { outlets, members }: Around): EntryAnswer {
  const outlet = outlets.find((each) => each.id === entry.outletId);
  const member = (of: number | null) => members.find((each) => each.id === of) ?? null;
  const { kind, text, stars, link, about, nested, form, language, tone, question, itemId, state, saidAt, risk } = entry;
  const name = entry.person.name;
  return {
    ...{ kind, text, stars, link, about, nested, form, language, tone, question, itemId, state, saidAt, risk },
    person: { id: entry.personId, name, labels: entry.labels, leftAlone: entry.leftAlone },
    outletId: entry.outletId,
    outlet: outlet?.name ?? '',
    outletKind: outlet?.kind ?? null,
    limit: outlet ? wordRules(outlet.kind, shown.purposeOfEntry(kind)).limit : null,
    answer: entry.answer && { ...entry.answer, user: member(entry.answer.user)?.name ?? null },
    draft: entry.draft,
    trouble: entry.trouble,
    assignedTo: member(entry.assignedTo),
    snoozedUntil: entry.snoozedUntil,
    openedBy: member(entry.openedBy),
    held: proposed(entry.held),
    coming: proposed(entry.coming),
    sending: entry.sending && {
      text: entry.sending.text,
      by: member(entry.sending.userId)?.name ?? 'somebody',
      dueAt: entry.sending.dueAt,
    },
  };
}

const answersThere = ({ gone, kind }: Outlet) =>
  !gone && (KIND_RULES[kind].answers !== null || KIND_RULES[kind].messages !== null);

const around = async (db: Parameters<typeof outletsOf>[0], brandId: number): Promise<Around> => {
  const [outlets, members] = await Promise.all([outletsOf(db, brandId), membersOf(db, brandId)]);
  return { outlets, members };
};

/** Outlets at which the brand answers what people write. */
export async function placesAnswered(db: Parameters<typeof outletsOf>[0], brandId: number) {
  const outlets = await outletsOf(db, brandId);
  return outlets.filter(answersThere).map(({ id: each, name }) => ({ id: each, name }));
}

const conversationSchema = z.object({
  conversation: z.array(entrySchema).meta({ description: 'Everything they wrote, oldest first.' }),
  person: personSchema.nullable(),
  done: z
    .array(
      z.object({
        workflow: z.string(),
        workflowId: id,
        action: z.string(),
        text: z.string(),
        url: z.string().nullable(),
        at: moment,
      }),
    )
    .meta({ description: 'What workflows did with them, newest first.' }),
  history: z.array(doneSchema).meta({ description: 'What colleagues did, newest first.' }),
});

/** The whole conversation with somebody; nothing of it for nobody. */
async function conversationOf(
  db: Parameters<typeof outletsOf>[0],
  brandId: number,
  person: number | null,
  now: number,
) {
  const about = person === null ? undefined : await personBy(db, brandId, person);
  if (!about) return { conversation: [], person: null, done: [] };
  const [known, entries, done] = await Promise.all([
    around(db, brandId),
    shown.conversationWith(db, brandId, about.id, { now, most: 100 }),
    shown.doneWith(db, brandId, about.id, 50),
  ]);
  return { conversation: entries.map((each) => entryAnswer(each, known)), person: about, done };
}

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
        shown.countDesk(pool, brand.id, now),
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
        conversationOf(pool, brand.id, entry.personId, clock()),
        auditOf(pool, brand.id, 'desk', [item]),
      ]);
      const alone = entry.personId === null ? [entryAnswer(entry, known)] : conversation.conversation;
      return { ...conversation, conversation: alone, entry: entryAnswer(entry, known), history };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/people/{person}',
    name: 'openPerson',
    says: 'Somebody who wrote to the brand, with everything they wrote and what was done with them.',
    may: 'see',
    params: z.object({ person: id }),
    answer: conversationSchema,
    async run({ services: { pool, clock }, brand, params: { person } }) {
      const read = await conversationOf(pool, brand.id, person, clock());
      if (!read.person) throw new Problem(404, 'There is no such person.');
      return { ...read, history: await auditOf(pool, brand.id, 'person', [person]) };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/people/{person}/export',
    name: 'exportPerson',
    says: 'Everything that is known of somebody, to give them: what they wrote, what was answered and what was done.',
    may: 'see',
    params: z.object({ person: id }),
    answer: z.object({
      exportedAt: moment,
      person: personSchema,
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
    async run({ services: { pool, clock }, brand, params: { person } }) {
      const now = clock();
      const about = await personBy(pool, brand.id, person);
      if (!about) throw new Problem(404, 'There is no such person.');
      const [entries, done, outlets] = await Promise.all([
        shown.conversationWith(pool, brand.id, about.id, { now, most: MOST_EXPORTED }),
        shown.doneWith(pool, brand.id, about.id, MOST_EXPORTED),
        outletsOf(pool, brand.id),
      ]);
      const place = (outlet: number | null) => outlets.find((each) => each.id === outlet)?.name ?? '';
      return {
        exportedAt: now,
        person: about,
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
              .optional()
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
  brandEndpoint({
    method: 'get',
    path: '/desk/policy',
    name: 'openPolicy',
    says: 'Which answers go out by themselves, and which wait for a person.',
    may: 'see',
    answer: z.object({
      policy: policySchema,
      revision,
      usual: z.boolean().meta({ description: 'Nobody has said anything yet: this is what is usual.' }),
      outlets: z.array(z.object({ id, name: z.string() })),
      members: z.array(z.object({ id, name: z.string() })),
    }),
    async run({ services: { pool }, brand }) {
      const [policy, { outlets, members }] = await Promise.all([policyOf(pool, brand.id), around(pool, brand.id)]);
      return {
        policy: policy ?? USUAL_POLICY,
        revision: revisionOf(policy ?? USUAL_POLICY),
        usual: policy === null,
        outlets: outlets.filter(answersThere).map(({ id: each, name }) => ({ id: each, name })),
        members: [...members],
      };
    },
  }),
  brandEndpoint({
    method: 'put',
    path: '/desk/policy',
    name: 'keepPolicy',
    says: 'Keeps which answers go out by themselves. What is on its way already goes on.',
    may: 'run',
    body: z.object({ policy: policySchema, revision: seenRevision }),
    answer: null,
    run: ({ services, brand, body: { policy, revision: seen } }) => keepPolicy(services, brand.id, policy, seen),
  }),
  brandEndpoint({
    method: 'post',
    path: '/desk/policy/try',
    name: 'tryPolicy',
    says: 'Tries a policy on what people wrote over the last 90 days; nothing is kept or sent.',
    may: 'see',
    body: z.object({ policy: policySchema }),
    answer: z.object({
      counts: z.object({ post: z.number(), hold: z.number(), ignore: z.number() }),
      tried: z.array(
        z.object({
          itemId: id,
          person: z.string(),
          outletId: id.nullable(),
          stars: z.number().nullable(),
          text: z.string(),
          saidAt: moment,
          does: z.enum(POLICY_DOES),
          says: z.string(),
          row: z.string().nullable(),
          was: z.enum(POLICY_DOES).meta({ description: 'What the policy of now says.' }),
        }),
      ),
    }),
    async run({ services: { pool, clock }, brand, body: { policy } }) {
      const tried = await tryPolicy(pool, brand.id, policy, clock());
      const count = (does: string) => tried.filter((each) => each.does === does).length;
      const counts = { post: count('post'), hold: count('hold'), ignore: count('ignore') };
      // What would become of it otherwise than now is what somebody wants to see.
      const sorted = [
        ...tried.filter(({ does, was }) => does !== was),
        ...tried.filter(({ does, was }) => does === was),
      ];
      return { counts, tried: sorted.slice(0, TRIED_SHOWN) };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/desk/look',
    name: 'lookForDesk',
    says: 'Has the sources of the desk looked at: somebody has it open.',
    may: 'see',
    answer: z.object({ woken: z.number() }),
    async run({ services: { pool, clock, nudges }, brand }) {
      const woken = await hastenDesk(pool, brand.id, clock());
      if (woken > 0) nudges.nudge();
      return { woken };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/desk/sources',
    name: 'listDeskSources',
    says: 'Where people write to the brand, and where the desk listens.',
    may: 'see',
    query: pageQuery(byId, 500),
    answer: z.object({
      ...nextPage,
      sources: z.array(
        z.object({
          outletId: id,
          outlet: z.string(),
          account: z.string(),
          what: z.string(),
          kind: z.enum(DESK_KINDS),
          listens: z.boolean(),
          used: z.boolean().meta({ description: 'A workflow listens there, so that it comes to the desk anyway.' }),
        }),
      ),
    }),
    async run({ services, brand, query: { after, most } }) {
      const found = await outletsPage(services.pool, brand.id, after?.after ?? 0, most + 1);
      const { page, next } = cutPage(found, most, (outlet) => ({ after: outlet.id }));
      return { sources: await deskSources(services, brand.id, page), next };
    },
  }),
  brandEndpoint({
    method: 'put',
    path: '/desk/sources',
    name: 'setDeskSource',
    says: 'Has the desk listen at a place, or no longer.',
    may: 'connect',
    body: z.object({ outletId: id, what: z.string().max(60), listens: z.boolean() }),
    answer: null,
    run: ({ services, brand, body }) => listenAt(services, brand.id, body),
  }),
];
