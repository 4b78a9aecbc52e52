import { z } from 'zod';
import { countDesk } from '../../store/desk-counts.ts';
import { userEndpoint } from '../contract/endpoint.ts';
import { id } from '../contract/schemas.ts';

/** What waits for somebody in all of their brands. */
export const waitingEndpoints = [
  userEndpoint({
    method: 'get',
    path: '/me/waiting',
    name: 'countWaiting',
    says: 'How many people wait for an answer in each of one’s brands; no more than a thousand are counted.',
    answer: z.object({ brands: z.array(z.object({ id, toAnswer: z.number() })) }),
    async run({ services: { pool, clock }, brands }) {
      const now = clock();
      const counts = await Promise.all(brands.map((brand) => countDesk(pool, brand.id, now)));
      return { brands: brands.map((brand, index) => ({ id: brand.id, toAnswer: counts[index]!.open })) };
    },
  }),
];
