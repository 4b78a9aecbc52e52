import { Router } from 'express';
import { z } from 'zod';
import { beginConnect, disconnect, finishConnect, refreshOutlets } from '../../accounts/connect.ts';
import { NetworkTrouble } from '../../connectors/connector.ts';
import type { Services } from '../../services.ts';
import * as accounts from '../../store/accounts.ts';
import { waitingForAccounts } from '../../store/effects.ts';
import { outletsOf } from '../../store/outlets.ts';
import { workflowsOf } from '../../store/workflows.ts';
import { watchesOf } from '../../store/watches.ts';
import { Problem } from '../problem.ts';
import { brandOf, visitorOf } from '../sign-in.ts';

const kindSchema = z.enum(['video', 'pages']);
const idOf = (text: unknown) => z.coerce.number().int().positive().parse(text);
/** Places inside the interface only. */
const backToSchema = z
  .string()
  .max(300)
  .regex(/^\/(?![/\\])/);

export function accountRoutes(services: Services): Router {
  const { pool } = services;
  const router = Router({ mergeParams: true });

  router.get('/accounts', async (req, res) => {
    const brand = brandOf(req, res);
    const [all, outlets, workflows, watches, waiting] = await Promise.all([
      accounts.accountsOf(pool, brand.id),
      outletsOf(pool, brand.id),
      workflowsOf(pool, brand.id),
      watchesOf(pool, brand.id),
      waitingForAccounts(pool, brand.id),
    ]);
    const uses = (outletIds: Set<number>, channels: Set<string>) =>
      workflows.filter(
        (workflow) =>
          workflow.draft.steps.some(
            (step) => step.verb === 'publish' && step.outlets.some((id) => outletIds.has(id)),
          ) ||
          workflow.draft.sources.some((source) =>
            watches.some(
              (watch) =>
                watch.id === source.watch && channels.has((watch.params as { channel?: string }).channel ?? ''),
            ),
          ),
      );
    res.json({
      networks: Object.entries(services.config.networks).map(([kind, network]) => ({ kind, name: network?.name })),
      accounts: all.map((account) => {
        const own = outlets.filter((outlet) => outlet.accountId === account.id);
        const used = uses(
          new Set(own.map((outlet) => outlet.id)),
          new Set(own.filter((outlet) => outlet.kind === 'channel').map((outlet) => outlet.remoteId)),
        );
        return {
          ...account,
          waiting: waiting.get(account.id) ?? 0,
          outlets: own,
          workflows: used.map((workflow) => ({ id: workflow.id, name: workflow.name })),
        };
      }),
    });
  });

  router.post('/accounts/connect', async (req, res) => {
    const brand = brandOf(req, res);
    const { kind, backTo } = z.object({ kind: kindSchema, backTo: backToSchema }).parse(req.body);
    res.json({
      url: await beginConnect(services, { brandId: brand.id, userId: visitorOf(res).user.id, kind, backTo }),
    });
  });

  router.patch('/accounts/:id', async (req, res) => {
    const brand = brandOf(req, res);
    const { name } = z.object({ name: z.string().trim().min(1, 'An account needs a name.').max(120) }).parse(req.body);
    const id = idOf(req.params.id);
    if (!(await accounts.accountBy(pool, brand.id, id))) throw new Problem(404, 'There is no such account.');
    await accounts.renameAccount(pool, brand.id, id, name);
    res.status(204).end();
  });

  router.post('/accounts/:id/refresh', async (req, res) => {
    await refreshOutlets(services, brandOf(req, res).id, idOf(req.params.id));
    res.status(204).end();
  });

  router.post('/accounts/:id/disconnect', async (req, res) => {
    await disconnect(services, brandOf(req, res).id, idOf(req.params.id));
    res.status(204).end();
  });
  return router;
}

/** Where networks send people back to after their consent page. */
export function consentRoutes(services: Services): Router {
  const router = Router();
  router.get('/oauth/callback', async (req, res) => {
    const visitor = visitorOf(res);
    const answer = new URL(req.originalUrl, services.config.origin).searchParams;
    try {
      const done = await finishConnect(services, visitor.user.id, answer, (id) =>
        visitor.brands.find((brand) => brand.id === id),
      );
      const back = new URL(done.backTo, services.config.origin);
      back.searchParams.set('connected', String(done.accountId));
      res.redirect(303, back.pathname + back.search);
    } catch (error) {
      if (!(error instanceof NetworkTrouble)) throw error;
      res.redirect(303, `/accounts?trouble=${encodeURIComponent(error.message)}`);
    }
  });
  return router;
}
