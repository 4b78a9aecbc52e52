import { z } from 'zod';
import { randomBytes } from 'crypto';
import type { Services } from '../../base/services.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { feedTokenOf, setFeedToken } from '../../store/brand-feeds.ts';
import { addAudit } from '../../store/audit.ts';

export const feedAddresses = (services: Services, token: string | null) =>
  token === null
    ? null
    : {
        atom: `${services.config.origin}/published/${token}.atom`,
        json: `${services.config.origin}/published/${token}.json`,
      };
/** The brand’s own feed of what it has published. */
export const brandFeedEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/published',
    name: 'openFeed',
    says: 'Where the brand’s own feed of what it published is read; null when it has none.',
    may: 'see',
    answer: z.object({ feed: z.object({ atom: z.string(), json: z.string() }).nullable() }),
    run: async ({ services, brand }) => ({
      feed: feedAddresses(services, await feedTokenOf(services.pool, brand.id, 'published')),
    }),
  }),
  brandEndpoint({
    method: 'put',
    path: '/published',
    name: 'setFeed',
    says: 'Gives the brand’s feed a new address, or takes it back. Whoever knows the address reads the feed.',
    may: 'connect',
    body: z.object({ on: z.boolean() }),
    answer: z.object({ feed: z.object({ atom: z.string(), json: z.string() }).nullable() }),
    async run({ services, brand, body: { on } }) {
      const token = on ? randomBytes(16).toString('hex') : null;
      await setFeedToken(services.pool, brand.id, 'published', token);
      const deed = {
        brandId: brand.id,
        did: 'changed',
        about: 'brand',
        name: 'feed',
        became: on ? 'on' : 'off',
      } as const;
      await addAudit(services.pool, services.actor, deed, services.clock());
      return { feed: feedAddresses(services, token) };
    },
  }),
];
