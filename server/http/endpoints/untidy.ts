import { untidy } from '@playa/core/advice/tidy.ts';
import type { Revision } from '@playa/core/model/acts.ts';
import { entrySchema, revisionsAt } from './logbook.ts';
import { outletKind } from '../contract/schemas.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { logbookPage, postsToTidy } from '../../store/logbook-shown.ts';
import { outletsOf } from '../../store/outlets.ts';
import { z } from 'zod';

const DAY = 86400000;
/** How far back the tidy-up list looks. */
export const TIDIED = 180 * DAY;
/** So many of the newest are looked at. */
const LOOKED_AT = 5000;
/** Whether a network lets something be done about what is untidy: one of two is deleted, what lacks something edited. */
export const canMend = (untidied: readonly { what: string }[], offers: readonly Revision[] = []): boolean =>
  untidied.some(({ what }) => offers.includes(what === 'doubled' ? 'delete' : 'edit'));
/** Posts that are worth tidying up. */
export const untidyEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/logbook/untidy',
    name: 'listUntidy',
    says: 'Posts of the last 180 days that lack a title, a link, a picture or what it shows, or are out twice.',
    may: 'see',
    answer: z.object({
      posts: z.array(
        z
          .object({
            entry: entrySchema,
            kind: outletKind,
            untidy: z.array(
              z.object({
                what: z.enum(['title', 'link', 'picture', 'alt', 'doubled']),
                of: z.string().optional().meta({ description: 'The key of the earlier post.' }),
              }),
            ),
            changeable: z.boolean().meta({ description: 'Its network lets that be mended.' }),
          })
          .meta({ id: 'UntidyPost' }),
      ),
    }),
    async run({ services: { pool, clock, connectors }, brand }) {
      const posts = await postsToTidy(pool, brand.id, await outletsOf(pool, brand.id), clock() - TIDIED, LOOKED_AT);
      const found = untidy(posts);
      const revisions = await revisionsAt({ pool, connectors }, brand.id);
      const known = new Map(posts.filter(({ key }) => found.has(key)).map((post) => [post.id, post]));
      const ids = [...known.keys()];
      const entries = ids.length === 0 ? [] : await logbookPage(pool, brand.id, { ids }, undefined, ids.length);
      return {
        posts: entries.map((entry) => {
          const { key, kind, remote, outlet } = known.get(entry.id)!;
          const what = found.get(key)!;
          return { entry, kind, untidy: what, changeable: remote && canMend(what, revisions.get(outlet)) };
        }),
      };
    },
  }),
];
