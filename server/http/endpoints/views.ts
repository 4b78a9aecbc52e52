import { z } from 'zod';
import { dropView, keepView, keptViews, MOST_VIEWS, VIEW_PLACES } from '../../store/kept-views.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { Problem } from '../problem.ts';

const place = z.enum(VIEW_PLACES);
const name = z.string().trim().min(1, 'A view needs a name.').max(60);

/** The ways in which somebody looks at lists, kept under names: one’s own. */
export const viewEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/views/{place}',
    name: 'listViews',
    says: 'One’s own views of a list.',
    may: 'see',
    params: z.object({ place }),
    answer: z.object({
      views: z.array(z.object({ name: z.string(), query: z.string() }).meta({ id: 'KeptView' })),
    }),
    run: async ({ services: { pool }, brand, user, params }) => ({
      views: await keptViews(pool, { brandId: brand.id, userId: user.id, place: params.place }),
    }),
  }),
  brandEndpoint({
    method: 'put',
    path: '/views/{place}/{name}',
    name: 'keepView',
    says: 'Keeps a view of a list under a name; one of the same name is replaced.',
    may: 'see',
    params: z.object({ place, name }),
    body: z.object({
      query: z.string().max(1000).meta({ description: 'Filters, as the address of the list has them.' }),
    }),
    answer: null,
    async run({ services: { pool }, brand, user, params, body }) {
      const of = { brandId: brand.id, userId: user.id, place: params.place };
      const before = await keptViews(pool, of);
      if (before.length >= MOST_VIEWS && !before.some((each) => each.name === params.name))
        throw new Problem(422, `You keep ${MOST_VIEWS} views already. Take one away first.`);
      await keepView(pool, of, { name: params.name, query: body.query });
    },
  }),
  brandEndpoint({
    method: 'delete',
    path: '/views/{place}/{name}',
    name: 'dropView',
    says: 'Takes a view away.',
    may: 'see',
    params: z.object({ place, name }),
    answer: null,
    async run({ services: { pool }, brand, user, params }) {
      const of = { brandId: brand.id, userId: user.id, place: params.place };
      if (!(await dropView(pool, of, params.name))) throw new Problem(404, 'There is no such view.');
    },
  }),
];
