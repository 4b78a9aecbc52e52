import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import argon2 from 'argon2';
import type { NextFunction, Request, Response } from 'express';
import { Router } from 'express';
import { z } from 'zod';
import type { Services } from '../base/services.ts';
import * as people from '../store/people.ts';
import { forgetTries, returnTry, takeTry } from '../store/sign-in-tries.ts';
import { hashPassword } from '../vault/password.ts';
import { Problem } from './problem.ts';

const COOKIE = 'playa_session';
const SESSION_LIFE = 14 * 86_400_000;
/** What a device is known by at which somebody signed in before. It lets nobody in. */
const DEVICE_COOKIE = 'playa_device';
const DEVICE_LIFE = 365 * 86_400_000;
/**
 * How fast passwords may be tried: at one person from devices that never signed in, from one place, and at one person
 * from a device of theirs. Nobody is locked out: whoever tries on gets another try after a while, and whoever tries at
 * somebody else slows down neither their devices nor them elsewhere.
 */
const TRIES = {
  person: { most: 6, another: 20_000 },
  place: { most: 40, another: 1000 },
  device: { most: 10, another: 5000 },
} as const;

/** Who is asking. Set for every route behind `requireUser`. */
export interface Visitor {
  user: people.User;
  csrf: string;
  brands: people.Membership[];
}

/** The person behind a request that has passed `requireUser`. */
export const visitorOf = (res: Response): Visitor => res.locals.visitor as Visitor;

const hash = (token: string): Buffer => createHash('sha256').update(token).digest();

function cookieOf(req: Request, name = COOKIE): string | undefined {
  return new RegExp(`(?:^|;\\s*)${name}=([\\w-]{43})(?:;|$)`).exec(req.headers.cookie ?? '')?.[1];
}

/** What the session of a request is known by; undefined without one. */
export function sessionHashOf(req: Request): Buffer | undefined {
  const token = cookieOf(req);
  return token === undefined ? undefined : hash(token);
}

// Checked when there is no such person, so that the time taken does not tell.
let nobody: Promise<string> | undefined;

export function signInRoutes(
  services: Services,
  demoEmail: string | null,
  sessionsEnded: (tokens: readonly Buffer[]) => void,
): Router {
  const { pool, clock, config } = services;
  const router = Router();

  const cookie = (life: number) => ({
    httpOnly: true,
    sameSite: 'lax' as const,
    secure: config.origin.startsWith('https:'),
    maxAge: life,
    path: '/',
  });

  async function begin(res: Response, userId: number) {
    const token = randomBytes(32).toString('base64url');
    const now = clock();
    await people.addSession(pool, {
      tokenHash: hash(token),
      userId,
      csrf: randomBytes(32).toString('base64url'),
      now,
      expiresAt: now + SESSION_LIFE,
    });
    res.cookie(COOKIE, token, cookie(SESSION_LIFE));
    res.status(204).end();
  }

  router.post('/sign-in', sameOrigin(config.origin), async (req, res) => {
    const { email, password } = z.object({ email: z.string().max(254), password: z.string().max(500) }).parse(req.body);
    const now = clock();
    const device = cookieOf(req, DEVICE_COOKIE);
    const known = device !== undefined && (await people.knowsDevice(pool, hash(device), email));
    const scopes = known
      ? ([[`device ${device} ${email.toLowerCase()}`, TRIES.device]] as const)
      : ([
          [`person ${email.toLowerCase()}`, TRIES.person],
          [`place ${req.ip ?? ''}`, TRIES.place],
        ] as const);
    for (const [scope, rule] of scopes) {
      const wait = await takeTry(pool, scope, rule, now);
      if (wait === 0) continue;
      const seconds = Math.ceil(wait / 1000);
      res.set('Retry-After', String(seconds));
      throw new Problem(429, `That was tried very often. Try again in ${seconds} s; what you typed is kept.`);
    }
    const user = await people.userByEmail(pool, email);
    nobody ??= hashPassword(randomBytes(12).toString('hex'));
    const right = await argon2.verify(user?.passwordHash ?? (await nobody), password);
    if (!user || !right) throw new Problem(401, 'The address and the password do not belong together.');
    const [own, place] = scopes;
    await forgetTries(pool, own[0]);
    if (place) await returnTry(pool, place[0], place[1]);
    const kept = known ? device : randomBytes(32).toString('base64url');
    await people.keepDevice(pool, hash(kept), user.id, now);
    res.cookie(DEVICE_COOKIE, kept, cookie(DEVICE_LIFE));
    await begin(res, user.id);
  });

  router.get('/sign-in/ways', (_req, res) => void res.json({ demo: demoEmail !== null }));

  // Only the demonstration has a door without a key.
  if (demoEmail !== null) {
    router.post('/sign-in/demo', sameOrigin(config.origin), async (_req, res) => {
      const user = await people.userByEmail(pool, demoEmail);
      if (!user) throw new Problem(503, 'The demonstration is still being set up. Try again in a moment.');
      await begin(res, user.id);
    });
  }

  router.post('/sign-out', sameOrigin(config.origin), async (req, res) => {
    const session = sessionHashOf(req);
    if (session) {
      await people.endSession(pool, session);
      sessionsEnded([session]);
    }
    res.clearCookie(COOKIE, { path: '/' });
    res.status(204).end();
  });
  return router;
}

/** Has the browser forget that somebody was signed in, and that this is a device of theirs. */
export function forgetSession(res: Response): void {
  res.clearCookie(COOKIE, { path: '/' });
  res.clearCookie(DEVICE_COOKIE, { path: '/' });
}

/** Refuses requests that a page of another origin made the browser send. */
function sameOrigin(origin: string) {
  return (req: Request, _res: Response, next: NextFunction) => {
    const from = req.get('origin');
    const site = req.get('sec-fetch-site');
    if ((from !== undefined && from !== origin) || site === 'cross-site')
      throw new Problem(403, 'This request came from another site.');
    next();
  };
}

/** Lets only signed-in people through; what changes something also needs the session's CSRF token in a header. */
export function requireUser(services: Services) {
  const checkOrigin = sameOrigin(services.config.origin);
  return async (req: Request, res: Response, next: NextFunction): Promise<void> => {
    const token = sessionHashOf(req);
    const session = token && (await people.sessionBy(services.pool, token, services.clock()));
    if (!session) throw new Problem(401, 'You are signed out. Sign in to go on; what you typed is kept.');
    if (req.method !== 'GET' && req.method !== 'HEAD') {
      const given = hash(req.get('x-csrf-token') ?? '');
      if (!timingSafeEqual(given, hash(session.csrf)))
        throw new Problem(403, 'This page is out of date. Load it again.');
      checkOrigin(req, res, () => undefined);
    }
    res.locals.visitor = {
      user: session.user,
      csrf: session.csrf,
      brands: await people.brandsOf(services.pool, session.user.id),
    } satisfies Visitor;
    next();
  };
}
