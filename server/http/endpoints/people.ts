import { z } from 'zod';
import { erasePerson } from '../../desk/erase.ts';
import { mergePeople, separatePeople } from '../../desk/merge.ts';
import { notePerson } from '../../desk/person.ts';
import { inTransaction } from '../../db/database.ts';
import { addAudit } from '../../store/audit.ts';
import { setStopWords, stopWords } from '../../store/people.ts';
import { labelsInUse, peoplePage, personBy } from '../../store/persons-shown.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { cursorOf, nextPage, pageQuery } from '../contract/pages.ts';
import { moment, revision, seenRevision } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

const PAGE = 100;
const label = z.string().trim().min(1).max(60);
export const personSchema = z
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
  .meta({ id: 'Person', description: 'Somebody who wrote to the brand.' });

/** People who wrote to the brand. */
export const peopleEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/people',
    name: 'listPeople',
    says: 'People who wrote to the brand, those who wrote last first, in pages.',
    may: 'see',
    query: pageQuery(z.object({ at: z.number(), id: z.number() }), PAGE).extend({
      words: z.string().max(200).optional(),
      label: label.optional(),
      network: z.string().max(20).optional(),
      only: z.enum(['waiting', 'alone']).optional(),
    }),
    answer: z.object({
      people: z.array(
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
        peoplePage(pool, brand.id, asked, after, most + 1),
        labelsInUse(pool, brand.id),
        stopWords(pool, brand.id),
      ]);
      const people = page.slice(0, most);
      const last = people.at(-1);
      const next = last && page.length > most ? cursorOf({ at: last.lastAt, id: last.id }) : null;
      return { people, labels, stopWords: words, next };
    },
  }),
  brandEndpoint({
    method: 'patch',
    path: '/people/{person}',
    name: 'notePerson',
    says: 'Labels somebody, keeps notes of them, or leaves them alone from now on.',
    may: 'decide',
    params: z.object({ person: id }),
    body: z.object({
      labels: z
        .object({ add: z.array(label).max(50).default([]), remove: z.array(label).max(50).default([]) })
        .optional(),
      notes: z.object({ text: z.string().max(10_000), revision: seenRevision }).optional(),
      leftAlone: z.string().max(300).nullable().optional().meta({ description: 'Why; null to write to them again.' }),
    }),
    answer: personSchema,
    async run({ services, brand, params: { person }, body }) {
      await notePerson(services, brand.id, person, body);
      const found = await personBy(services.pool, brand.id, person);
      if (!found) throw new Problem(404, 'There is no such person.');
      return found;
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/people/{person}/same',
    name: 'mergePeople',
    says: 'Makes somebody one with this person: all that they wrote is one conversation from now on.',
    may: 'decide',
    params: z.object({ person: id }),
    body: z.object({ other: id.meta({ description: 'Who becomes one with them.' }) }),
    answer: personSchema,
    async run({ services, brand, params: { person }, body: { other } }) {
      await mergePeople(services, brand.id, other, person);
      return (await personBy(services.pool, brand.id, person))!;
    },
  }),
  brandEndpoint({
    method: 'delete',
    path: '/people/{person}/same/{other}',
    name: 'separatePeople',
    says: 'Takes two apart who are not one after all.',
    may: 'decide',
    params: z.object({ person: id, other: id }),
    answer: personSchema,
    async run({ services, brand, params: { person, other } }) {
      await separatePeople(services, brand.id, person, other);
      return (await personBy(services.pool, brand.id, person))!;
    },
  }),
  brandEndpoint({
    method: 'put',
    path: '/people/stop-words',
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
    path: '/people/{person}',
    name: 'erasePerson',
    says: 'Forgets somebody: their words and their name go, and what was done stays. It cannot be taken back.',
    may: 'decide',
    params: z.object({ person: id }),
    answer: z.object({ forgotten: z.number() }),
    run: async ({ services, brand, params: { person } }) => ({
      forgotten: await erasePerson(services, brand.id, person),
    }),
  }),
];
