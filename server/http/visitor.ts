// Who asks: a session by its cookie, and whether a request came from Playa's own pages.
import { createHash, timingSafeEqual } from 'node:crypto';
import type { NextFunction, Request, Response } from 'express';
import type { Services } from '../base/services.ts';
import * as users from '../store/users.ts';
import { Problem } from './problem.ts';

export const SESSION_COOKIE = 'playa_session';
/** What a device is known by at which somebody signed in before. It lets nobody in. */
export const DEVICE_COOKIE = 'playa_device';

/** Who is asking. Set for every route behind `requireUser`. */
export interface Visitor {
  user: users.User;
  csrf: string;
  brands: users.Membership[];
}

/** The person behind a request that has passed `requireUser`. */
export const visitorOf = (res: Response): Visitor => res.locals.visitor as Visitor;

/** What a token is kept as: whoever reads the database can sign in with none of them. */
export const tokenHash = (token: string): Buffer => createHash('sha256').update(token).digest();

/** A token in a cookie; undefined where there is none, or nothing that could be one. */
export function cookieOf(req: Request, name: string): string | undefined {
  return new RegExp(`(?:^|;\\s*)${name}=([\\w-]{43})(?:;|$)`).exec(req.headers.cookie ?? '')?.[1];
}

/** What the session of a request is known by; undefined without one. */
export function sessionHashOf(req: Request): Buffer | undefined {
  const token = cookieOf(req, SESSION_COOKIE);
  return token === undefined ? undefined : tokenHash(token);
}

/** Has the browser forget that somebody was signed in, and that this is a device of theirs. */
export function forgetSession(res: Response): void {
  res.clearCookie(SESSION_COOKIE, { path: '/' });
  res.clearCookie(DEVICE_COOKIE, { path: '/' });
}

/** @throws Problem 403 where a page of another origin made the browser send a request (Fetch Metadata, RFC 6454) */
export function fromHere(origin: string, req: Request): void {
  const from = req.get('origin');
  const site = req.get('sec-fetch-site');
  if ((from !== undefined && from !== origin) || site === 'cross-site')
    throw new Problem(403, 'This request came from another site.');
}

/** Lets only signed-in people through; what changes something also needs the session's CSRF token in a header. */
export function requireUser(services: Services) {
  return async (req: Request, res: Response, next: NextFunction): Promise<void> => {
    const token = sessionHashOf(req);
    const session = token && (await users.sessionBy(services.pool, token, services.clock()));
    if (!session) throw new Problem(401, 'You are signed out. Sign in to go on; what you typed is kept.');
    if (req.method !== 'GET' && req.method !== 'HEAD') {
      const given = tokenHash(req.get('x-csrf-token') ?? '');
      if (!timingSafeEqual(given, tokenHash(session.csrf)))
        throw new Problem(403, 'This page is out of date. Load it again.');
      fromHere(services.config.origin, req);
    }
    res.locals.visitor = {
      user: session.user,
      csrf: session.csrf,
      brands: await users.brandsOf(services.pool, session.user.id),
    } satisfies Visitor;
    next();
  };
}
