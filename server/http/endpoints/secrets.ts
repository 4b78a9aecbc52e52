import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { fieldValueSchema, type FieldValue } from '@playa/core/items/item.ts';
import { ACT_INPUTS } from '@playa/core/model/acts.ts';
import { callService, secretOwner } from '../../runner/call-service.ts';
import { inTransaction } from '../../db/database.ts';
import { addAudit } from '../../store/audit.ts';
import { noteChange } from '../../store/changes.ts';
import { deleteSecret, keepSecret, secretNames } from '../../store/secrets.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { byName, cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { moment } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

const params = z.object({ name: z.string().trim().min(1, 'A secret needs a name.').max(80) });

/** Trying a call for its answer's fields, and the secrets that calls may send. */
export const secretEndpoints = [
  brandEndpoint({
    method: 'post',
    path: '/calls/try',
    name: 'tryCall',
    says: 'Sends one request of a Call, really, and answers with what came back.',
    may: 'connect',
    body: ACT_INPUTS.call,
    answer: z.object({ status: z.number().int(), body: fieldValueSchema }),
    async run({ services, brand, body }) {
      const { result } = await callService(services, brand.id, body, `try.${randomUUID()}`);
      return result as { status: number; body: FieldValue };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/secrets',
    name: 'listSecrets',
    says: 'The names of the secrets; what they hold is never answered.',
    may: 'see',
    query: pageQuery(byName, 200),
    answer: z.object({ secrets: z.array(z.object({ name: z.string(), changedAt: moment })), ...nextPage }),
    async run({ services: { pool }, brand, query: { after, most } }) {
      const found = await secretNames(pool, brand.id, { after: after?.after ?? '', most: most + 1 });
      const { page, next } = cutPage(found, most, ({ name }) => ({ after: name }));
      return { secrets: page, next };
    },
  }),
  brandEndpoint({
    method: 'put',
    path: '/secrets/{name}',
    name: 'keepSecret',
    says: 'Keeps a secret under a name, or replaces what it holds.',
    may: 'connect',
    params,
    body: z.object({ value: z.string().min(1, 'A secret cannot be empty.').max(4000) }),
    answer: null,
    async run({ services: { pool, clock, vault, actor }, brand, params: { name }, body }) {
      await inTransaction(pool, async (db) => {
        await keepSecret(db, brand.id, name, vault.seal(body.value, secretOwner(brand.id, name)), clock());
        await addAudit(db, actor, { brandId: brand.id, did: 'changed', about: 'secret', name }, clock());
        await noteChange(db, brand.id, 'accounts', null, clock());
      });
    },
  }),
  brandEndpoint({
    method: 'delete',
    path: '/secrets/{name}',
    name: 'deleteSecret',
    says: 'Forgets a secret.',
    may: 'connect',
    params,
    answer: null,
    async run({ services: { pool, clock, actor }, brand, params: { name } }) {
      await inTransaction(pool, async (db) => {
        if (!(await deleteSecret(db, brand.id, name))) throw new Problem(404, 'There is no such secret.');
        await addAudit(db, actor, { brandId: brand.id, did: 'deleted', about: 'secret', name }, clock());
        await noteChange(db, brand.id, 'accounts', null, clock());
      });
    },
  }),
];
