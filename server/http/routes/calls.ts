import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { z } from 'zod';
import { ACT_INPUTS } from '@playa/core/model/acts.ts';
import { callService, secretOwner } from '../../runner/call-service.ts';
import type { Services } from '../../base/services.ts';
import { deleteSecret, keepSecret, secretNames } from '../../store/secrets.ts';
import { noteChange } from '../../store/changes.ts';
import { Problem } from '../problem.ts';
import { brandOf } from '../sign-in.ts';

const secretName = z.string().trim().min(1, 'A secret needs a name.').max(80);

/** Trying a call for its answer's fields, and the secrets that calls may send. */
export function callRoutes(services: Services): Router {
  const { pool, clock } = services;
  const router = Router({ mergeParams: true });

  // A person asks for this one request; it is really sent.
  router.post('/calls/try', async (req, res) => {
    const brand = brandOf(req, res);
    const call = ACT_INPUTS.call.parse(req.body);
    const outcome = await callService(services, brand.id, call, `try.${randomUUID()}`);
    res.json(outcome.result);
  });

  router.get('/secrets', async (req, res) => {
    res.json({ secrets: await secretNames(pool, brandOf(req, res).id) });
  });

  router.put('/secrets/:name', async (req, res) => {
    const brand = brandOf(req, res);
    const name = secretName.parse(req.params.name);
    const { value } = z.object({ value: z.string().min(1, 'A secret cannot be empty.').max(4000) }).parse(req.body);
    const sealed = services.vault.seal(value, secretOwner(brand.id, name));
    await keepSecret(pool, brand.id, name, sealed, clock());
    await noteChange(pool, brand.id, 'accounts', null, clock());
    res.status(204).end();
  });

  router.delete('/secrets/:name', async (req, res) => {
    const brand = brandOf(req, res);
    if (!(await deleteSecret(pool, brand.id, secretName.parse(req.params.name))))
      throw new Problem(404, 'There is no such secret.');
    await noteChange(pool, brand.id, 'accounts', null, clock());
    res.status(204).end();
  });
  return router;
}
