import { Router } from 'express';
import { visitorOf } from '../sign-in.ts';

/** Who is signed in and which brands are theirs. */
export function meRoutes(): Router {
  const router = Router();
  router.get('/me', (_req, res) => {
    const { user, csrf, brands } = visitorOf(res);
    res.json({ user, csrf, brands });
  });
  return router;
}
