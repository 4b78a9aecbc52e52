import { z } from 'zod';
import { eraseContact } from '../../desk/erase.ts';
import { mergeContacts, separateContacts } from '../../desk/merge.ts';
import { noteContact } from '../../desk/contact.ts';
import { inTransaction } from '../../db/database.ts';
import { addAudit } from '../../store/audit.ts';
import { setStopWords, stopWords } from '../../store/users.ts';
import { labelsInUse, contactsPage, contactBy } from '../../store/contacts-shown.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { cursorOf, nextPage, pageQuery } from '../contract/pages.ts';
import { moment, revision, seenRevision } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

const PAGE = 100;
const label = z.string().trim().min(1).max(60);
export const contactSchema = z
  .object({
    id,
    name: z.string(),
    network: z.string(),
    since: moment,
    notes: z.string(),
    revision: revision.meta({ description: 'Of the notes.' }),
    labels: z.array(z.string()),
    leftAlone: z.string().nullable().meta({ description: 'Why they are left alone; null when they are not.' }),
    also: z
      .array(z.object({ id, name: z.string(), network: z.string() }))
      .meta({ description: 'As whom they are known besides.' }),
  })
  .meta({ id: 'Contact', description: 'Somebody who wrote to the brand.' });

/** People who wrote to the brand. */
export const contactEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/contacts',
    name: 'listContacts',
    says: 'People who wrote to the brand, those who wrote last first, in pages.',
    may: 'see',
    query: pageQuery(z.object({ at: z.number(), id: z.number() }), PAGE).extend({
      words: z.string().max(200).optional(),
      label: label.optional(),
      network: z.string().max(20).optional(),
      only: z.enum(['waiting', 'alone']).optional(),
    }),
    answer: z.object({
      contacts: z.array(
        z.object({
          id,
          name: z.string(),
          network: z.string(),
          labels: z.array(z.string()),
          lastAt: moment,
          lastText: z.string(),
          waiting: z.number().meta({ description: 'How much of what they wrote waits for an answer.' }),
          leftAlone: z.boolean(),
        }),
      ),
      labels: z.array(z.object({ label: z.string(), count: z.number() })),
      stopWords: z.string().meta({ description: 'Words by which somebody asks not to be written to any more.' }),
      ...nextPage,
    }),
    async run({ services: { pool }, brand, query: { after, most, ...asked } }) {
      const [page, labels, words] = await Promise.all([
        contactsPage(pool, brand.id, asked, after, most + 1),
        labelsInUse(pool, brand.id),
        stopWords(pool, brand.id),
      ]);
      const contacts = page.slice(0, most);
      const last = contacts.at(-1);
      const next = last && page.length > most ? cursorOf({ at: last.lastAt, id: last.id }) : null;
      return { contacts, labels, stopWords: words, next };
    },
  }),
  brandEndpoint({
    method: 'patch',
    path: '/contacts/{contact}',
    name: 'noteContact',
    says: 'Labels somebody, keeps notes of them, or leaves them alone from now on.',
    may: 'decide',
    params: z.object({ contact: id }),
    body: z.object({
      labels: z
        .object({ add: z.array(label).max(50).default([]), remove: z.array(label).max(50).default([]) })
        .optional(),
      notes: z.object({ text: z.string().max(10_000), revision: seenRevision }).optional(),
      leftAlone: z.string().max(300).nullable().optional().meta({ description: 'Why; null to write to them again.' }),
    }),
    answer: contactSchema,
    async run({ services, brand, params: { contact }, body }) {
      await noteContact(services, brand.id, contact, body);
      const found = await contactBy(services.pool, brand.id, contact);
      if (!found) throw new Problem(404, 'There is no such person.');
      return found;
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/contacts/{contact}/same',
    name: 'mergeContacts',
    says: 'Makes somebody one with this person: all that they wrote is one conversation from now on.',
    may: 'decide',
    params: z.object({ contact: id }),
    body: z.object({ other: id.meta({ description: 'Who becomes one with them.' }) }),
    answer: contactSchema,
    async run({ services, brand, params: { contact }, body: { other } }) {
      await mergeContacts(services, brand.id, other, contact);
      return (await contactBy(services.pool, brand.id, contact))!;
    },
  }),
  brandEndpoint({
    method: 'delete',
    path: '/contacts/{contact}/same/{other}',
    name: 'separateContacts',
    says: 'Takes two apart who are not one after all.',
    may: 'decide',
    params: z.object({ contact: id, other: id }),
    answer: contactSchema,
    async run({ services, brand, params: { contact, other } }) {
      await separateContacts(services, brand.id, contact, other);
      return (await contactBy(services.pool, brand.id, contact))!;
    },
  }),
  brandEndpoint({
    method: 'put',
    path: '/contacts/stop-words',
    name: 'setStopWords',
    says: 'Keeps the words by which somebody asks not to be written to any more.',
    may: 'connect',
    body: z.object({ words: z.string().max(500) }),
    answer: null,
    run: ({ services: { pool, clock, actor }, brand, body: { words } }) =>
      inTransaction(pool, async (db) => {
        const was = await stopWords(db, brand.id);
        await setStopWords(db, brand.id, words.trim());
        const deed = { brandId: brand.id, did: 'changed', about: 'brand', id: brand.id, name: 'stop words' } as const;
        await addAudit(db, actor, { ...deed, was, became: words.trim() }, clock());
      }),
  }),
  brandEndpoint({
    method: 'delete',
    path: '/contacts/{contact}',
    name: 'eraseContact',
    says: 'Forgets somebody: their words and their name go, and what was done stays. It cannot be taken back.',
    may: 'decide',
    params: z.object({ contact: id }),
    answer: z.object({ forgotten: z.number() }),
    run: async ({ services, brand, params: { contact } }) => ({
      forgotten: await eraseContact(services, brand.id, contact),
    }),
  }),
];
