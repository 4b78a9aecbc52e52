import { policySchema } from '@playa/core/desk/policy.ts';
import { z } from 'zod';
import { liveBeside } from '../../workflows/beside.ts';
import { worldOf } from '../../world/world.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { placeOfThing, thingsAfter, worldPlaceSchema, worldThingSchema } from '../contract/world-things.ts';

export const worldEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/world',
    name: 'readWorld',
    says: 'What definitions of the brand refer to by number or name, its customs, and its live workflows.',
    may: 'see',
    query: pageQuery(worldPlaceSchema, 1000),
    answer: z.object({
      ...nextPage,
      timeZone: z.string(),
      locale: z.string(),
      policy: policySchema.optional(),
      things: z.array(worldThingSchema),
    }),
    async run({ services: { pool, connectors }, brand, query: { after, most } }) {
      const world = await worldOf(pool, brand.id, connectors);
      const found = thingsAfter(world, await liveBeside(pool, brand.id), after ?? null);
      const { page, next } = cutPage(found, most, placeOfThing);
      const { timeZone, locale, policy } = world;
      return { timeZone, locale, policy, things: page, next };
    },
  }),
];
