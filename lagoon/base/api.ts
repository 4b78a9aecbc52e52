// What the interfaces of all services have in common: who calls, how much they may, what goes wrong on purpose. How it
// is said differs from service to service, as it does out there.
import { Router, json, type NextFunction, type Request, type Response } from 'express';
import { ZodError } from 'zod';
import { rows } from './db.ts';
import type { Lagoon } from './lagoon.ts';
import { accessOf, oauthRoutes } from './oauth.ts';
import type { Person } from './people.ts';

/** Who a request acts for. */
export interface Caller {
  person: Person;
  /** The application, as keys against repeats know it. */
  client: string;
  scopes: string[];
  grant: string;
  /** The bot, where one acts. */
  bot: number | null;
}

/** A refusal in the middle of a request; the service's own manner words it. */
export class Refusal extends Error {
  readonly status: number;
  readonly code: string;
  constructor(status: number, code: string, message: string) {
    super(message);
    this.status = status;
    this.code = code;
  }
}

/** How a service signs people in and says no. */
export interface Manner {
  service: string;
  title: string;
  /** A consent with these scopes, or a key in this header. */
  sign: { scopes: Record<string, string> } | { header: string; scheme?: string };
  refuse(res: Response, status: number, code: string, message: string): void;
}

export const callerOf = (res: Response) => res.locals.caller as Caller;

/** Refuses unless the caller was given the scope. */
export function needScope(res: Response, scope: string): void {
  if (!callerOf(res).scopes.includes(scope))
    throw new Refusal(403, 'scope_missing', `The permission ${scope} was not given.`);
}

/** The interface of a service: `define` adds its routes. */
export function apiOf(lagoon: Lagoon, manner: Manner, define: (routes: Router) => void): Router {
  const { db, clock, faults, config } = lagoon;
  const { service, sign } = manner;
  const routes = Router();
  routes.use(json({ limit: '200kb' }));
  routes.use(async (req, res, next) => {
    const caller = await readCaller(req);
    if (!caller)
      return manner.refuse(
        res,
        401,
        'not_signed_in',
        'scopes' in sign
          ? 'The access token is missing, expired or revoked.'
          : 'This key is not known, or was revoked.',
      );
    res.locals.caller = caller;
    next();
  });
  const limit = limitWrites(config.writesPerMinute, manner);
  const writes = faults.middleware(service);
  const reads = faults.middleware(`${service}-read`);
  routes.use((req, res, next) => {
    if (req.method === 'GET') return reads(req, res, next);
    limit(req, res, () => writes(req, res, next));
  });
  define(routes);
  routes.use((_req, res) => manner.refuse(res, 404, 'nothing_here', 'There is nothing at this address.'));
  routes.use((error: Error, _req: Request, res: Response, next: NextFunction) => {
    if (error instanceof Refusal) return manner.refuse(res, error.status, error.code, error.message);
    if (error instanceof ZodError) {
      const first = error.issues[0];
      return manner.refuse(res, 422, 'content', `${first?.path.join('.')}: ${first?.message}`);
    }
    next(error);
  });
  return routes;

  async function readCaller(req: Request): Promise<Caller | undefined> {
    if ('scopes' in sign) {
      const access = await accessOf(db, clock, service, req);
      return access && { ...access, client: `${service}:${access.client}`, bot: null };
    }
    const header = req.get(sign.header) ?? '';
    const token = sign.scheme ? new RegExp(`^${sign.scheme} (\\S+)$`, 'i').exec(header)?.[1] : header;
    if (!token) return undefined;
    const [key] = await rows<{ person_id: number; name: string; thing_id: number | null }>(
      db,
      'SELECT k.person_id, p.name, k.thing_id FROM given_keys k JOIN people p ON p.id = k.person_id WHERE k.token = ? AND k.service = ? AND k.revoked = 0',
      [token, service],
    );
    if (!key) return undefined;
    return {
      person: { id: key.person_id, name: key.name },
      client: `${service}:${token.slice(0, 20)}`,
      scopes: [],
      grant: token,
      bot: key.thing_id,
    };
  }
}

/** The consent pages of a service. */
export function signInOf(lagoon: Lagoon, manner: Manner): Router {
  const { sign, service, title } = manner;
  if (!('scopes' in sign)) throw new Error(`${title} signs in by key.`);
  return oauthRoutes(lagoon.db, lagoon.clock, lagoon.config.clients, { service, title, scopes: sign.scopes });
}

/** A bucket of writes per access: it holds a quarter of a minute's worth and fills steadily. */
function limitWrites(perMinute: number, manner: Manner) {
  const most = Math.max(1, perMinute / 4);
  const buckets = new Map<string, { left: number; at: number }>();
  return (_req: Request, res: Response, next: () => void) => {
    const { grant } = callerOf(res);
    const now = Date.now();
    const bucket = buckets.get(grant) ?? { left: most, at: now };
    bucket.left = Math.min(most, bucket.left + ((now - bucket.at) * perMinute) / 60_000);
    bucket.at = now;
    buckets.set(grant, bucket);
    if (bucket.left < 1) {
      const seconds = Math.ceil(((1 - bucket.left) * 60) / perMinute);
      res.set('Retry-After', String(seconds));
      return manner.refuse(res, 429, 'slow_down', `Too many requests. Try again in ${seconds} s.`);
    }
    bucket.left--;
    next();
  };
}
