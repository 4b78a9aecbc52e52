import { z } from 'zod';
import { ABOUTS, auditPage } from '../../store/audit-shown.ts';
import { membersOf } from '../../store/users.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { cursorOf, nextPage, pageQuery } from '../contract/pages.ts';
import { moment } from '../contract/schemas.ts';

const time = z.coerce.number().int().optional();

/** Who did what, for whoever answers for it. */
export const auditEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/audit',
    name: 'readAudit',
    says: 'Who did what at the brand, newest first, in pages: people, workflows, and Playa by itself.',
    may: 'see',
    query: pageQuery(z.object({ before: z.number() }), 200, 100).extend({
      about: z.enum(ABOUTS).optional(),
      by: z
        .union([z.enum(['workflows', 'playa']), z.coerce.number().int().positive()])
        .optional()
        .meta({ description: 'A colleague’s number, `workflows`, or `playa` for what it did by itself.' }),
      from: time.meta({ description: 'From this moment, milliseconds since 1970.' }),
      to: time.meta({ description: 'Before this moment, milliseconds since 1970.' }),
    }),
    answer: z.object({
      entries: z.array(
        z
          .object({
            id: z.number(),
            at: moment,
            by: z
              .string()
              .nullable()
              .meta({ description: 'A person, or the workflow whose run did it; null for Playa.' }),
            byUser: z.boolean(),
            did: z.string(),
            about: z.enum(ABOUTS),
            aboutId: z.number().nullable(),
            name: z.string().nullable().meta({ description: 'What it is called, where it has a name.' }),
            workflowId: z.number().nullable(),
            was: z.string().nullable(),
            became: z.string().nullable(),
          })
          .meta({ id: 'AuditEntry' }),
      ),
      people: z
        .array(z.object({ id: z.number(), name: z.string() }))
        .meta({ description: 'Colleagues, to filter by.' }),
      ...nextPage,
    }),
    async run({ services: { pool }, brand, query: { after, most, ...filter } }) {
      const [entries, people] = await Promise.all([
        auditPage(pool, brand.id, filter, after?.before, most),
        membersOf(pool, brand.id),
      ]);
      const last = entries.length === most ? entries.at(-1) : undefined;
      return {
        entries,
        people: people.map(({ id, name }) => ({ id, name })),
        next: last ? cursorOf({ before: last.id }) : null,
      };
    },
  }),
];
