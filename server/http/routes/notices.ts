import { Router } from 'express';
import { z } from 'zod';
import type { Services } from '../../base/services.ts';
import { noteChange } from '../../store/changes.ts';
import { noticesFor, putNoticeAway } from '../../store/notices.ts';
import { Problem } from '../problem.ts';
import { brandOf, visitorOf } from '../sign-in.ts';

/** What workflows, or Playa itself, have told the person who is signed in. */
export function noticeRoutes(services: Services): Router {
  const { pool, clock } = services;
  const router = Router({ mergeParams: true });

  router.get('/notices', async (req, res) => {
    const brand = brandOf(req, res);
    res.json({ notices: await noticesFor(pool, brand.id, visitorOf(res).user.id, 50) });
  });

  router.post('/notices/:id/away', async (req, res) => {
    const brand = brandOf(req, res);
    const id = z.coerce.number().int().positive().parse(req.params.id);
    if (!(await putNoticeAway(pool, brand.id, visitorOf(res).user.id, id, clock())))
      throw new Problem(404, 'This notice has already been put away.');
    await noteChange(pool, brand.id, 'workflows', null, clock());
    res.status(204).end();
  });
  return router;
}
