// Entries of the desk and conversations, as they are answered.
import { DESK_KINDS } from '@playa/core/desk/kinds.ts';
import { ACT_INPUTS, type ActName } from '@playa/core/model/acts.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { wordRules } from '@playa/core/outlets/length.ts';
import { FORMS } from '@playa/core/said/form.ts';
import { TONES } from '@playa/core/said/tone.ts';
import { z } from 'zod';
import type { Proposed } from '../../store/desk-besides.ts';
import * as shown from '../../store/desk-shown.ts';
import { DESK_STATES } from '../../store/desk.ts';
import { outletsOf, type Outlet } from '../../store/outlets.ts';
import { membersOf } from '../../store/users.ts';
import { contactBy } from '../../store/contacts-shown.ts';
import { id } from '../contract/endpoint.ts';
import { moment, outletKind, doneSchema } from '../contract/schemas.ts';
import { contactSchema } from './contacts.ts';

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
export const entrySchema = z
  .object({
    itemId: id,
    kind: z.enum(DESK_KINDS),
    text: z.string(),
    stars: z.number().nullable(),
    contact: z.object({ id: id.nullable(), name: z.string(), labels: z.array(z.string()), leftAlone: z.boolean() }),
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
        by: z.enum(['workflow', 'user', 'there']),
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

export function entryAnswer(entry: shown.ShownEntry, { outlets, members }: Around): EntryAnswer {
  const outlet = outlets.find((each) => each.id === entry.outletId);
  const member = (of: number | null) => members.find((each) => each.id === of) ?? null;
  const { kind, text, stars, link, about, nested, form, language, tone, question, itemId, state, saidAt, risk } = entry;
  const name = entry.person.name;
  return {
    ...{ kind, text, stars, link, about, nested, form, language, tone, question, itemId, state, saidAt, risk },
    contact: { id: entry.contactId, name, labels: entry.labels, leftAlone: entry.leftAlone },
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

export const answersThere = ({ gone, kind }: Outlet) =>
  !gone && (KIND_RULES[kind].answers !== null || KIND_RULES[kind].messages !== null);
export const around = async (db: Parameters<typeof outletsOf>[0], brandId: number): Promise<Around> => {
  const [outlets, members] = await Promise.all([outletsOf(db, brandId), membersOf(db, brandId)]);
  return { outlets, members };
};

/** Outlets at which the brand answers what people write. */
export async function placesAnswered(db: Parameters<typeof outletsOf>[0], brandId: number) {
  const outlets = await outletsOf(db, brandId);
  return outlets.filter(answersThere).map(({ id: each, name }) => ({ id: each, name }));
}

export const conversationSchema = z.object({
  conversation: z.array(entrySchema).meta({ description: 'Everything they wrote, oldest first.' }),
  contact: contactSchema.nullable(),
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
export async function conversationOf(
  db: Parameters<typeof outletsOf>[0],
  brandId: number,
  contactId: number | null,
  now: number,
) {
  const about = contactId === null ? undefined : await contactBy(db, brandId, contactId);
  if (!about) return { conversation: [], contact: null, done: [] };
  const [known, entries, done] = await Promise.all([
    around(db, brandId),
    shown.conversationWith(db, brandId, about.id, { now, most: 100 }),
    shown.doneWith(db, brandId, about.id, 50),
  ]);
  return { conversation: entries.map((each) => entryAnswer(each, known)), contact: about, done };
}
