import { z } from 'zod';
import { openApiDocument } from '../contract/document.ts';
import { openEndpoint, type Endpoint } from '../contract/endpoint.ts';

/**
 * What describes all endpoints, itself among them.
 *
 * @param endpoints all of them, once they are asked for
 * @param origin where Playa is reached
 */
export function documentEndpoint(endpoints: () => readonly Endpoint[], origin: string): Endpoint {
  let document: ReturnType<typeof openApiDocument> | undefined;
  return openEndpoint({
    method: 'get',
    path: '/openapi.json',
    name: 'readDocument',
    says: 'This document: every endpoint, what it is told and what it answers (OpenAPI 3.1).',
    answer: z
      .looseObject({
        openapi: z.string(),
        info: z.looseObject({ title: z.string(), version: z.string() }),
        paths: z.record(z.string(), z.unknown()),
      })
      .meta({ id: 'OpenApi', description: 'https://spec.openapis.org/oas/v3.1.0' }),
    run: () => Promise.resolve((document ??= openApiDocument(endpoints(), origin)) as never),
  });
}
