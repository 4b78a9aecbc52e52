import { z } from 'zod';
import { userEndpoint } from '../contract/endpoint.ts';
import { id } from '../contract/schemas.ts';

const brandSchema = z
  .object({ id, name: z.string(), timeZone: z.string(), locale: z.string(), role: z.enum(['member']) })
  .meta({ id: 'Brand' });

export const meEndpoints = [
  userEndpoint({
    method: 'get',
    path: '/me',
    name: 'whoAmI',
    says: 'Who is signed in, which brands are theirs, and the token that changes carry.',
    answer: z.object({
      user: z.object({ id, email: z.string(), name: z.string() }),
      csrf: z.string(),
      brands: z.array(brandSchema),
    }),
    run: async ({ user, csrf, brands }) => ({ user, csrf, brands }),
  }),
];
