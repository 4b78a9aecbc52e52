import { Router } from 'express';
import { z } from 'zod';
import type { Services } from '../../base/services.ts';
import { noteChange } from '../../store/changes.ts';
import { putAsideAway } from '../../store/set-aside.ts';
import { Problem } from '../problem.ts';
import { brandOf } from '../sign-in.ts';

/** What Playa could not take: a person has seen it. */
export function asideRoutes(services: Services): Router {
  const { pool, clock } = services;
  const router = Router({ mergeParams: true });

  router.post('/aside/:id/away', async (req, res) => {
    const brand = brandOf(req, res);
    const id = z.coerce.number().int().positive().parse(req.params.id);
    if (!(await putAsideAway(pool, brand.id, id, clock())))
      throw new Problem(404, 'Somebody has already put this away.');
    await noteChange(pool, brand.id, 'watches', null, clock());
    res.status(204).end();
  });
  return router;
}
