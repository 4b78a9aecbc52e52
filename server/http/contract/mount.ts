// Endpoints as routes: each is checked in the same order, so that none can forget anything.
import { Router, type Request, type Response } from 'express';
import type { z } from 'zod';
import { may } from '@playa/core/access/actions.ts';
import type { Services } from '../../base/services.ts';
import { Problem } from '../problem.ts';
import { fromHere, visitorOf } from '../visitor.ts';
import { pathOf, type Endpoint } from './endpoint.ts';

/**
 * @throws Problem 404: nothing has what is no number for its number
 * @throws ZodError where a name that a person has typed cannot be one
 */
function readParams(schema: z.ZodObject | undefined, params: unknown): unknown {
  if (!schema) return {};
  const read = schema.safeParse(params);
  if (read.success) return read.data;
  const numbers = read.error.issues.some(({ path: [name] }) => schema.shape[String(name)]?._zod.def.type === 'number');
  if (numbers) throw new Problem(404, 'There is nothing at this address.');
  throw read.error;
}

/** Who asks, and as which brand, as far as an endpoint is about that. Whatever is done is done by this person. */
function whoAsks(services: Services, endpoint: Endpoint, req: Request, res: Response) {
  if (endpoint.of === 'anybody') return { services };
  const { user, csrf, brands } = visitorOf(res);
  const asked = {
    services: { ...services, actor: { kind: 'person', userId: user.id } } satisfies Services,
    user,
    csrf,
    brands,
  };
  if (endpoint.of === 'user') return asked;
  const brand = brands.find((each) => each.id === Number(req.params.brand));
  // Whoever is not of a brand does not learn whether there is one.
  if (!brand) throw new Problem(404, 'There is no such brand.');
  if (!may(brand.role, endpoint.may)) throw new Problem(403, 'Your role in this brand does not allow this.');
  return { ...asked, brand };
}

async function answer(services: Services, endpoint: Endpoint, req: Request, res: Response): Promise<void> {
  const { described } = endpoint;
  if (endpoint.of === 'anybody' && described.method !== 'get') fromHere(services.config.origin, req);
  const asked = {
    ...whoAsks(services, endpoint, req, res),
    params: readParams(described.params, req.params),
    query: described.query?.parse(req.query) ?? {},
    body: described.body?.parse(req.body),
    req,
    res,
  };
  const answered = await endpoint.run(asked as never);
  if (described.answersItself !== undefined) return;
  if (endpoint.answer === null) return void res.status(204).end();
  if (services.config.checkAnswers) checkAnswer(endpoint, answered);
  res.status(described.status ?? 200).json(answered);
}

/**
 * Holds an answer against its description, for tests.
 *
 * @throws an error that says where it differs
 */
function checkAnswer(endpoint: Endpoint, answered: unknown): void {
  const sent: unknown = JSON.parse(JSON.stringify(answered));
  const read = endpoint.answer!.safeParse(sent);
  const where = `${endpoint.described.name} does not answer what it says`;
  if (!read.success) throw new Error(`${where}: ${JSON.stringify(read.error.issues.slice(0, 3))}`);
  const more = undescribed(sent, JSON.parse(JSON.stringify(read.data)));
  if (more) throw new Error(`${where}: ${more} is not described.`);
}

/** The first thing in an answer that its description leaves out, by its path. */
function undescribed(sent: unknown, read: unknown, path = ''): string | undefined {
  if (sent === null || typeof sent !== 'object') return undefined;
  if (read === null || typeof read !== 'object') return path;
  for (const [name, value] of Object.entries(sent)) {
    if (!Object.hasOwn(read, name)) return `${path}.${name}`;
    const found = undescribed(value, (read as Record<string, unknown>)[name], `${path}.${name}`);
    if (found) return found;
  }
  return undefined;
}

/** The routes of endpoints, below /api. */
export function mountEndpoints(services: Services, endpoints: readonly Endpoint[]): Router {
  const router = Router({ mergeParams: true });
  for (const endpoint of endpoints) {
    const path = pathOf(endpoint).replace(/\{(\w+)\}/g, ':$1');
    router[endpoint.described.method](path, (req, res) => answer(services, endpoint, req, res));
  }
  return router;
}
