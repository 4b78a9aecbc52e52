import { DESK_KINDS } from '@playa/core/desk/kinds.ts';
import { z } from 'zod';
import { deskSources, listenAt } from '../../desk/sources.ts';
import { outletsPage } from '../../store/outlets.ts';
import { hastenDesk } from '../../store/watch-times.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { atOutlet, byAccount, pageQuery, nextPage, cutPage } from '../contract/pages.ts';

/** Where the desk listens. */
export const deskSourceEndpoints = [
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
    query: pageQuery(byAccount, 500),
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
      const found = await outletsPage(services.pool, brand.id, after ?? null, most + 1);
      const { page, next } = cutPage(found, most, atOutlet);
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
