import { z } from 'zod';
import { fieldsSchema } from '@playa/core/items/item.ts';
import { jsonSchemaSchema } from '@playa/core/items/json-schema.ts';
import { hookBy } from '../../store/hooks.ts';
import { recentDeliveries } from '../../store/hook-deliveries.ts';
import { watchBy } from '../../store/watches.ts';
import { changeHook, schemaRevision } from '../../watch/change-hook.ts';
import { hookAddress, sendTest } from '../../watch/hooks.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { moment } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

const params = z.object({ id });
const NO_HOOK = 'There is no such web hook.';

/** A web hook of the brand's: its address, what came, what is learned of it. */
export const hookEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/sources/{id}/hook',
    name: 'openHook',
    says: 'A web hook with its secret address, what is known of what comes, and the newest ten deliveries.',
    may: 'connect',
    params,
    answer: z.object({
      address: z.string(),
      oldUntil: moment.nullable(),
      signed: z.boolean(),
      identityField: z.string().nullable(),
      schema: jsonSchemaSchema.nullable(),
      revision: z.string().nullable().meta({ description: 'Of the schema: a change of it carries it.' }),
      names: z.record(z.string(), z.string()),
      deliveries: z.array(
        z.object({
          id: z.number(),
          receivedAt: moment,
          readAt: moment.nullable(),
          test: z.boolean(),
          trouble: z.string().nullable(),
          body: z.string(),
        }),
      ),
    }),
    async run({ services, brand, params: { id: watchId } }) {
      const { pool, clock } = services;
      const hook = await hookBy(pool, brand.id, watchId);
      const watch = await watchBy(pool, brand.id, watchId);
      if (!hook || !watch) throw new Problem(404, NO_HOOK);
      return {
        address: hookAddress(services, hook),
        oldUntil: hook.oldUntil !== null && hook.oldUntil > clock() ? hook.oldUntil : null,
        signed: hook.sealedSecret !== null,
        identityField: hook.identityField,
        schema: hook.schema,
        revision: schemaRevision(hook.schema),
        names: watch.names,
        deliveries: await recentDeliveries(pool, brand.id, watchId, 10),
      };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sources/{id}/hook',
    name: 'changeHook',
    says: 'Changes a web hook: its identity field, its schema, whether it is signed, its address.',
    may: 'connect',
    params,
    body: z
      .object({
        identityField: z.string().max(300).nullable().optional(),
        signed: z.boolean().optional(),
        newAddress: z.boolean().optional(),
        oldAddress: z.boolean().optional(),
        schema: jsonSchemaSchema.optional(),
        revision: z.string().nullable().optional().meta({ description: 'Of the schema that is changed.' }),
      })
      .refine(({ schema, revision }) => schema === undefined || revision !== undefined, {
        path: ['revision'],
        message: 'A change of the schema carries the revision it was made of.',
      }),
    answer: z.object({ secret: z.string().nullable().meta({ description: 'To sign with; answered this once.' }) }),
    async run({ services, brand, params: { id: watchId }, body }) {
      const changed = await changeHook(services, brand.id, watchId, body);
      if (changed === 'no hook') throw new Problem(404, NO_HOOK);
      if (changed === 'no old address') throw new Problem(409, 'The address before this one no longer works.');
      return changed;
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sources/{id}/hook/test',
    name: 'testHook',
    says: 'Sends a web hook something, marked as a test.',
    may: 'connect',
    params,
    body: z.object({ body: fieldsSchema }),
    answer: null,
    async run({ services, brand, params: { id: watchId }, body }) {
      if (!(await sendTest(services, brand.id, watchId, body.body))) throw new Problem(404, NO_HOOK);
    },
  }),
];
