import { Router } from 'express';
import { z } from 'zod';
import { NETWORK_KINDS } from '@playa/core/outlets/networks.ts';
import { beginConnect, disconnect, finishConnect, refreshOutlets } from '../../accounts/connect.ts';
import { checkOutlet, createOutlet, openOutlet, removeTestPost, sendTestPost } from '../../accounts/outlets.ts';
import { accountsOverview } from '../../accounts/overview.ts';
import { connectByForm } from '../../accounts/sign-in.ts';
import { NetworkTrouble } from '../../connectors/connector.ts';
import type { Services } from '../../base/services.ts';
import * as accounts from '../../store/accounts.ts';
import { Problem } from '../problem.ts';
import { brandOf, visitorOf } from '../sign-in.ts';

const kindSchema = z.enum(NETWORK_KINDS);
const valuesSchema = z.record(z.string().max(40), z.string().max(5000));
const idOf = (text: unknown) => z.coerce.number().int().positive().parse(text);
/** Places inside the interface only, whatever a browser makes of the rest: it leaves out tabs and turns backslashes. */
const backToSchema = z
  .string()
  .max(300)
  .regex(/^\/(?!\/)[\w\-./~%?&=+:@]*$/, 'This leads out of Playa.');
/** What a trouble's address is signed for. */
const TROUBLE = 'trouble';

export function accountRoutes(services: Services): Router {
  const { pool } = services;
  const router = Router({ mergeParams: true });

  router.get('/accounts', async (req, res) => {
    res.json(await accountsOverview(services, brandOf(req, res).id));
  });

  router.post('/accounts/connect', async (req, res) => {
    const brand = brandOf(req, res);
    const { kind, backTo } = z.object({ kind: kindSchema, backTo: backToSchema }).parse(req.body);
    res.json({
      url: await beginConnect(services, { brandId: brand.id, userId: visitorOf(res).user.id, kind, backTo }),
    });
  });

  router.post('/accounts/form', async (req, res) => {
    const { kind, values } = z.object({ kind: kindSchema, values: valuesSchema }).parse(req.body);
    res.status(201).json({ id: await connectByForm(services, brandOf(req, res), kind, values) });
  });

  router.post('/accounts/:id/outlets', async (req, res) => {
    const { address } = z.object({ address: z.string().trim().min(1).max(2000) }).parse(req.body);
    res.status(201).json({ id: await openOutlet(services, brandOf(req, res).id, idOf(req.params.id), address) });
  });

  router.post('/accounts/:id/create', async (req, res) => {
    const { what, values } = z.object({ what: z.string().max(40), values: valuesSchema }).parse(req.body);
    const id = await createOutlet(services, brandOf(req, res).id, idOf(req.params.id), what, values);
    res.status(201).json({ id });
  });

  router.post('/outlets/:id/check', async (req, res) => {
    res.json(await checkOutlet(services, brandOf(req, res).id, idOf(req.params.id)));
  });

  router.post('/outlets/:id/test', async (req, res) => {
    res.status(201).json(await sendTestPost(services, brandOf(req, res).id, idOf(req.params.id)));
  });

  router.delete('/outlets/:id/test/:ticket', async (req, res) => {
    await removeTestPost(services, brandOf(req, res).id, idOf(req.params.id), String(req.params.ticket));
    res.status(204).end();
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
      const back = new URL(backToSchema.safeParse(done.backTo).data ?? '/accounts', services.config.origin);
      back.searchParams.set('connected', String(done.accountId));
      res.redirect(303, back.pathname + back.search);
    } catch (error) {
      if (!(error instanceof NetworkTrouble)) throw error;
      // Signed, so that nobody can have Playa say words of theirs by a link.
      const said = Buffer.from(error.message).toString('base64url');
      res.redirect(303, `/accounts?trouble=${said}.${services.vault.sign(said, TROUBLE)}`);
    }
  });

  // The words of a trouble that this server itself put into an address.
  router.get('/oauth/trouble/:token', (req, res) => {
    const [said = '', signature = ''] = String(req.params.token).split('.');
    if (!services.vault.isSigned(said, TROUBLE, signature)) throw new Problem(404, 'Nothing of the sort was said.');
    res.json({ says: Buffer.from(said, 'base64url').toString('utf8') });
  });
  return router;
}
