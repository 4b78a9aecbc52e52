// An endpoint as a value: where it is, who may ask, what goes in, what comes out, and what it does. From it come its route,
// its checks, its place in the OpenAPI document and the types of the interface's client.
import type { Request, Response } from 'express';
import { z } from 'zod';
import type { Action } from '@playa/core/access/actions.ts';
import type { Services } from '../../base/services.ts';
import type { Membership, User } from '../../store/users.ts';

export type Method = 'get' | 'post' | 'put' | 'patch' | 'delete';

/** Nothing asked for: no parameters, no query. */
type Nothing = z.ZodObject<Record<never, never>>;

/** What an endpoint is handed. Everything in it has been checked. */
export interface Asked<P, Q, B> {
  services: Services;
  user: User;
  params: P;
  query: Q;
  body: B;
  /** For what is neither JSON in nor JSON out. */
  req: Request;
  res: Response;
}

interface Described<P extends z.ZodObject, Q extends z.ZodObject, B extends z.ZodType> {
  method: Method;
  /** Below the brand, or below /api: parameters in braces, as OpenAPI writes them. */
  path: `/${string}`;
  /** What a client calls it: `listWorkflows`. */
  name: string;
  /** One sentence on what it does. */
  says: string;
  params?: P;
  query?: Q;
  body?: B;
  /** Of a good answer; 200, or 204 where nothing is answered. */
  status?: 200 | 201 | 202;
  /** Where it does not answer in JSON: the type of what it answers with (RFC 9110 section 8.3), and it answers itself. */
  answersItself?: string;
  /** Where it does not take JSON: the type of what it takes, and it reads the body itself. */
  takes?: string;
  /** What it refuses besides what all refuse: a sentence for each status. */
  refuses?: Record<string, string>;
}

type Answer<A extends z.ZodType | null> = A extends z.ZodType ? z.input<A> : void;

/** An endpoint of one brand: the brand is one of the asker's, and they may do what it needs. */
export interface BrandEndpoint {
  of: 'brand';
  described: Described<z.ZodObject, z.ZodObject, z.ZodType>;
  may: Action;
  answer: z.ZodType | null;
  run(asked: Asked<never, never, never> & { brand: Membership }): Promise<unknown>;
}
/** An endpoint of whoever is signed in. */
export interface UserEndpoint {
  of: 'user';
  described: Described<z.ZodObject, z.ZodObject, z.ZodType>;
  answer: z.ZodType | null;
  run(asked: Asked<never, never, never> & { csrf: string; brands: Membership[] }): Promise<unknown>;
}
/** An endpoint of anybody: nobody need be signed in. What changes something is refused to pages of other sites. */
export interface OpenEndpoint {
  of: 'anybody';
  described: Described<z.ZodObject, z.ZodObject, z.ZodType>;
  answer: z.ZodType | null;
  run(asked: Omit<Asked<never, never, never>, 'user'>): Promise<unknown>;
}
export type Endpoint = BrandEndpoint | UserEndpoint | OpenEndpoint;

/**
 * Describes an endpoint of a brand. Its address begins with `/brands/{brand}`.
 *
 * @example
 * ```ts
 * brandEndpoint({
 *   method: 'get', path: '/snippets', name: 'listSnippets', says: 'The brand’s snippets.', may: 'see',
 *   answer: z.object({ snippets: z.array(snippetSchema) }),
 *   run: async ({ services, brand }) => ({ snippets: await snippetsOf(services.pool, brand.id) }),
 * })
 * ```
 */
export function brandEndpoint<
  A extends z.ZodType | null,
  P extends z.ZodObject = Nothing,
  Q extends z.ZodObject = Nothing,
  B extends z.ZodType = z.ZodUndefined,
>(
  given: Described<P, Q, B> & {
    may: Action;
    answer: A;
    run(asked: Asked<z.output<P>, z.output<Q>, z.output<B>> & { brand: Membership }): Promise<Answer<A>>;
  },
): BrandEndpoint {
  const { may, answer, run, ...described } = given;
  return { of: 'brand', described, may, answer, run: run as BrandEndpoint['run'] };
}

/** Describes an endpoint of whoever is signed in, whatever the brand. */
export function userEndpoint<
  A extends z.ZodType | null,
  P extends z.ZodObject = Nothing,
  Q extends z.ZodObject = Nothing,
  B extends z.ZodType = z.ZodUndefined,
>(
  given: Described<P, Q, B> & {
    answer: A;
    run(
      asked: Asked<z.output<P>, z.output<Q>, z.output<B>> & { csrf: string; brands: Membership[] },
    ): Promise<Answer<A>>;
  },
): UserEndpoint {
  const { answer, run, ...described } = given;
  return { of: 'user', described, answer, run: run as UserEndpoint['run'] };
}

/** Describes an endpoint of anybody: signing in, whether Playa is well. */
export function openEndpoint<
  A extends z.ZodType | null,
  P extends z.ZodObject = Nothing,
  Q extends z.ZodObject = Nothing,
  B extends z.ZodType = z.ZodUndefined,
>(
  given: Described<P, Q, B> & {
    answer: A;
    run(asked: Omit<Asked<z.output<P>, z.output<Q>, z.output<B>>, 'user'>): Promise<Answer<A>>;
  },
): OpenEndpoint {
  const { answer, run, ...described } = given;
  return { of: 'anybody', described, answer, run: run as OpenEndpoint['run'] };
}

/** The whole path as OpenAPI writes it, below /api. */
export const pathOf = (endpoint: Endpoint): string =>
  endpoint.of === 'brand' ? `/brands/{brand}${endpoint.described.path}` : endpoint.described.path;

/** A number in a path. */
export const id = z.coerce.number().int().positive();
