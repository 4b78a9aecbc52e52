import { policySchema, USUAL_POLICY, POLICY_DOES } from '@playa/core/desk/policy.ts';
import { z } from 'zod';
import { revisionOf } from '../../db/revision.ts';
import { keepPolicy, tryPolicy } from '../../desk/policy.ts';
import { policyOf } from '../../store/users.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { seenRevision, moment, revision } from '../contract/schemas.ts';
import { around, answersThere } from './desk-answer.ts';

/** So much of a trial is shown. */
export const TRIED_SHOWN = 300;
/** Which answers go out by themselves. */
export const deskPolicyEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/desk/policy',
    name: 'openPolicy',
    says: 'Which answers go out by themselves, and which wait for a person.',
    may: 'see',
    answer: z.object({
      policy: policySchema,
      revision,
      usual: z.boolean().meta({ description: 'Nobody has said anything yet: this is what is usual.' }),
      outlets: z.array(z.object({ id, name: z.string() })),
      members: z.array(z.object({ id, name: z.string() })),
    }),
    async run({ services: { pool }, brand }) {
      const [policy, { outlets, members }] = await Promise.all([policyOf(pool, brand.id), around(pool, brand.id)]);
      return {
        policy: policy ?? USUAL_POLICY,
        revision: revisionOf(policy ?? USUAL_POLICY),
        usual: policy === null,
        outlets: outlets.filter(answersThere).map(({ id: each, name }) => ({ id: each, name })),
        members: [...members],
      };
    },
  }),
  brandEndpoint({
    method: 'put',
    path: '/desk/policy',
    name: 'keepPolicy',
    says: 'Keeps which answers go out by themselves. What is on its way already goes on.',
    may: 'run',
    body: z.object({ policy: policySchema, revision: seenRevision }),
    answer: null,
    run: ({ services, brand, body: { policy, revision: seen } }) => keepPolicy(services, brand.id, policy, seen),
  }),
  brandEndpoint({
    method: 'post',
    path: '/desk/policy/try',
    name: 'tryPolicy',
    says: 'Tries a policy on what people wrote over the last 90 days; nothing is kept or sent.',
    may: 'see',
    body: z.object({ policy: policySchema }),
    answer: z.object({
      counts: z.object({ post: z.number(), hold: z.number(), ignore: z.number() }),
      tried: z.array(
        z.object({
          itemId: id,
          person: z.string(),
          outletId: id.nullable(),
          stars: z.number().nullable(),
          text: z.string(),
          saidAt: moment,
          does: z.enum(POLICY_DOES),
          says: z.string(),
          row: z.string().nullable(),
          was: z.enum(POLICY_DOES).meta({ description: 'What the policy of now says.' }),
        }),
      ),
    }),
    async run({ services: { pool, clock }, brand, body: { policy } }) {
      const tried = await tryPolicy(pool, brand.id, policy, clock());
      const count = (does: string) => tried.filter((each) => each.does === does).length;
      const counts = { post: count('post'), hold: count('hold'), ignore: count('ignore') };
      // What would become of it otherwise than now is what somebody wants to see.
      const sorted = [
        ...tried.filter(({ does, was }) => does !== was),
        ...tried.filter(({ does, was }) => does === was),
      ];
      return { counts, tried: sorted.slice(0, TRIED_SHOWN) };
    },
  }),
];
