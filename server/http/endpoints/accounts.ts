import { z } from 'zod';
import { beginConnect, disconnect, refreshOutlets } from '../../accounts/connect.ts';
import { checkOutlet, createOutlet, openOutlet, removeTestPost, sendTestPost } from '../../accounts/outlets.ts';
import { accountsOverview, networksReached } from '../../accounts/overview.ts';
import { connectByForm } from '../../accounts/sign-in.ts';
import { inTransaction } from '../../db/database.ts';
import { addAudit } from '../../store/audit.ts';
import { noteChange } from '../../store/changes.ts';
import * as accounts from '../../store/accounts.ts';
import { backToSchema } from '../back-to.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { byId, cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { madeSchema, moment, networkKind, outletKind, outletSchema, workflowStatus } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

const values = z.record(z.string().max(40), z.string().max(5000));
const params = z.object({ id });

const askedField = z
  .object({
    name: z.string(),
    label: z.string(),
    secret: z.boolean().optional(),
    hint: z.string().optional(),
    optional: z.boolean().optional(),
  })
  .meta({ id: 'AskedField', description: 'A field of a form that a network asks for.' });

const networkSchema = z
  .object({
    kind: networkKind,
    name: z.string(),
    does: z.string(),
    outlets: z.string(),
    address: z.string(),
    signIn: z.discriminatedUnion('by', [
      z.object({ by: z.literal('consent') }),
      z.object({ by: z.literal('form'), help: z.string(), fields: z.array(askedField).readonly() }),
    ]),
    opens: z.string().nullable(),
    creations: z.array(z.object({ what: z.string(), fields: z.array(askedField).readonly() })),
    acts: z.array(z.string()),
    watches: z.array(z.object({ what: z.string(), things: z.string(), outlet: outletKind })),
  })
  .meta({ id: 'Network', description: 'A kind of network that this installation can reach.' });

const accountSchema = z
  .object({
    id: z.number(),
    brandId: z.number(),
    kind: networkKind,
    name: z.string(),
    remoteId: z.string(),
    remoteName: z.string(),
    status: z.enum(['ok', 'reconnect', 'disconnected']),
    trouble: z.string().nullable(),
    connectedAt: moment,
    lastOkAt: moment.nullable(),
    tokenExpiresAt: moment.nullable(),
    scopes: z.string().nullable(),
    missing: z.array(z.string()).meta({ description: 'What was asked for at the consent and not given.' }),
    waiting: z.number(),
    slowUntil: moment.nullable(),
    outlets: z.array(outletSchema),
    allowance: z
      .object({ calls: z.number(), per: z.enum(['hour', 'day']), used: z.number(), forecast: z.number() })
      .optional(),
    workflows: z.array(z.object({ id: z.number(), name: z.string(), status: workflowStatus })),
  })
  .meta({ id: 'Account' });

/** Accounts at networks, and their outlets. */
export const accountEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/accounts',
    name: 'listAccounts',
    says: 'The brand’s accounts with their outlets.',
    may: 'see',
    query: pageQuery(byId, 100),
    answer: z.object({ accounts: z.array(accountSchema), ...nextPage }),
    async run({ services, brand, query: { after, most } }) {
      const found = await accounts.accountsPage(services.pool, brand.id, after?.after ?? 0, most + 1);
      const { page, next } = cutPage(found, most, (account) => ({ after: account.id }));
      return { accounts: await accountsOverview(services, brand.id, page), next };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/networks',
    name: 'listNetworks',
    says: 'The kinds of network that this installation can reach: as many as it is set up for.',
    may: 'see',
    answer: z.object({ networks: z.array(networkSchema) }),
    run: async ({ services }) => ({ networks: networksReached(services) }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/accounts/connect',
    name: 'beginConnect',
    says: 'Where a person goes to let Playa in at a network.',
    may: 'connect',
    body: z.object({ kind: networkKind, backTo: backToSchema }),
    answer: z.object({ url: z.string() }),
    run: async ({ services, brand, user, body }) => ({
      url: await beginConnect(services, { brandId: brand.id, userId: user.id, ...body }),
    }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/accounts/form',
    name: 'connectByForm',
    says: 'Connects an account with what its network gives out: a token, a name and a password.',
    may: 'connect',
    body: z.object({ kind: networkKind, values }),
    status: 201,
    answer: madeSchema,
    run: async ({ services, brand, body }) => ({
      id: await connectByForm(services, brand, body.kind, body.values),
    }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/accounts/{id}/outlets',
    name: 'openOutlet',
    says: 'Adds an outlet by its address.',
    may: 'connect',
    params,
    body: z.object({ address: z.string().trim().min(1).max(2000) }),
    status: 201,
    answer: madeSchema,
    run: async ({ services, brand, params: asked, body }) => ({
      id: await openOutlet(services, brand.id, asked.id, body.address),
    }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/accounts/{id}/create',
    name: 'createOutlet',
    says: 'Has an outlet made at the network: a board, a table.',
    may: 'connect',
    params,
    body: z.object({ what: z.string().max(40), values }),
    status: 201,
    answer: madeSchema,
    run: async ({ services, brand, params: asked, body }) => ({
      id: await createOutlet(services, brand.id, asked.id, body.what, body.values),
    }),
  }),
  brandEndpoint({
    method: 'patch',
    path: '/accounts/{id}',
    name: 'renameAccount',
    says: 'Gives an account another name.',
    may: 'connect',
    params,
    body: z.object({ name: z.string().trim().min(1, 'An account needs a name.').max(120) }),
    answer: null,
    run: ({ services: { pool, clock, actor }, brand, params: asked, body }) =>
      inTransaction(pool, async (db) => {
        const account = await accounts.accountBy(db, brand.id, asked.id);
        if (!account) throw new Problem(404, 'There is no such account.');
        await accounts.renameAccount(db, brand.id, asked.id, body.name);
        const deed = { brandId: brand.id, did: 'changed', about: 'account', id: asked.id, name: body.name } as const;
        await addAudit(db, actor, { ...deed, was: account.name, became: body.name }, clock());
        await noteChange(db, brand.id, 'accounts', null, clock());
      }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/accounts/{id}/refresh',
    name: 'refreshOutlets',
    says: 'Asks the network again which outlets there are.',
    may: 'connect',
    params,
    answer: null,
    run: ({ services, brand, params: asked }) => refreshOutlets(services, brand.id, asked.id),
  }),
  brandEndpoint({
    method: 'post',
    path: '/accounts/{id}/disconnect',
    name: 'disconnectAccount',
    says: 'Forgets what lets Playa in; what would be sent waits.',
    may: 'connect',
    params,
    answer: null,
    run: ({ services, brand, params: asked }) => disconnect(services, brand.id, asked.id),
  }),
  brandEndpoint({
    method: 'post',
    path: '/outlets/{id}/check',
    name: 'checkOutlet',
    says: 'Looks whether Playa may publish at an outlet, and says what is missing.',
    may: 'connect',
    params,
    answer: z.union([
      z.object({ ok: z.literal(true) }),
      z.object({ ok: z.literal(false), trouble: z.string(), remedy: z.string() }),
    ]),
    run: ({ services, brand, params: asked }) => checkOutlet(services, brand.id, asked.id),
  }),
  brandEndpoint({
    method: 'post',
    path: '/outlets/{id}/test',
    name: 'sendTestPost',
    says: 'Sends a post that says it is a test.',
    may: 'connect',
    params,
    status: 201,
    answer: z.object({ ticket: z.string(), url: z.string().nullable(), removable: z.boolean() }),
    run: ({ services, brand, params: asked }) => sendTestPost(services, brand.id, asked.id),
  }),
  brandEndpoint({
    method: 'delete',
    path: '/outlets/{id}/test/{ticket}',
    name: 'removeTestPost',
    says: 'Takes a test away again.',
    may: 'connect',
    params: z.object({ id, ticket: z.string().max(2000) }),
    answer: null,
    run: ({ services, brand, params: asked }) => removeTestPost(services, brand.id, asked.id, asked.ticket),
  }),
];
