// What an endpoint takes and answers, by its name.
import type { operations } from './api-types.ts';

/** The name of an endpoint. */
export type Endpoint = keyof operations;

type ParametersOf<Name extends Endpoint> = operations[Name] extends { parameters: infer P } ? P : object;
type BodyOf<Name extends Endpoint> = operations[Name] extends { requestBody?: { content: infer C } } ? C : never;

/** What stands in its path. */
export type Params<Name extends Endpoint> = ParametersOf<Name> extends { path: infer P } ? P : Record<never, never>;

/** What it is asked behind the question mark. */
export type Query<Name extends Endpoint> =
  ParametersOf<Name> extends { query?: infer Q } ? NonNullable<Q> : Record<never, never>;

/** What it is told: data as a body, or a file as it is. */
type Told<Name extends Endpoint> = [BodyOf<Name>] extends [never]
  ? object
  : BodyOf<Name> extends { 'application/json': infer B }
    ? operations[Name] extends { requestBody: unknown }
      ? { body: B }
      : { body?: B }
    : { file: Blob };

type Asked<Name extends Endpoint> =
  ParametersOf<Name> extends { query: infer Q }
    ? { query: Q }
    : ParametersOf<Name> extends { query?: infer Q }
      ? { query?: Q }
      : object;

/** All that goes along besides the path. */
export type Sent<Name extends Endpoint> = Asked<Name> & Told<Name>;

/** What it answers with. */
export type Answer<Name extends Endpoint> = operations[Name] extends { responses: infer R }
  ? R extends { 200: { content: { 'application/json': infer A } } }
    ? A
    : R extends { 201: { content: { 'application/json': infer A } } }
      ? A
      : R extends { 202: { content: { 'application/json': infer A } } }
        ? A
        : void
  : never;

/** An endpoint that answers a list in pages. */
export type Listing = {
  [Name in Endpoint]: Answer<Name> extends { next: string | null }
    ? Query<Name> extends { after?: string }
      ? Name
      : never
    : never;
}[Endpoint];
