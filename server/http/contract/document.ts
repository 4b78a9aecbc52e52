// The OpenAPI 3.1 document of all endpoints, made from the same values as their routes.
import { z } from 'zod';
import {
  createDocument,
  type ZodOpenApiOperationObject,
  type ZodOpenApiPathsObject,
  type ZodOpenApiResponsesObject,
} from 'zod-openapi';
import { pathOf, type Endpoint } from './endpoint.ts';
import { CODES } from '../problem.ts';

/** Problem details (RFC 9457). */
const refusalSchema = z
  .object({
    type: z.string().meta({ description: 'Which sort of problem it is: an address below /problems.' }),
    code: z.enum(CODES).meta({ description: 'The same, in a word.' }),
    title: z.string().meta({ description: 'A sentence for the person.' }),
    status: z.number().int(),
  })
  .loose()
  .meta({ id: 'Refusal', description: 'Why something was refused (RFC 9457).' });

const refused = (description: string) => ({
  description,
  content: { 'application/problem+json': { schema: refusalSchema } },
});

/** Under which word endpoints of no brand stand together. */
const TAG = { user: 'person', anybody: 'open' } as const;

function operationOf(endpoint: Endpoint): ZodOpenApiOperationObject {
  const { described, answer } = endpoint;
  const { params, query, body, takes, answersItself } = described;
  const brand = z.object({ brand: z.number().int().positive().meta({ description: 'The brand’s number.' }) });
  const path = endpoint.of === 'brand' ? brand.extend(params?.shape ?? {}) : params;
  const changes = described.method !== 'get';
  const good: ZodOpenApiResponsesObject =
    answersItself !== undefined
      ? { '200': { description: 'It goes on.', content: { [answersItself]: { schema: z.string() } } } }
      : answer === null
        ? { '204': { description: 'Done.' } }
        : {
            [String(described.status ?? 200)]: {
              description: described.status === 201 ? 'Made.' : 'What was asked for.',
              content: { 'application/json': { schema: answer } },
            },
          };
  return {
    operationId: described.name,
    summary: described.says,
    tags: [endpoint.of === 'brand' ? (described.path.split('/')[1] ?? 'brand') : TAG[endpoint.of]],
    ...(endpoint.of === 'brand' ? { 'x-may': endpoint.may } : {}),
    security: endpoint.of === 'anybody' ? [] : [changes ? { session: [], csrf: [] } : { session: [] }],
    requestParams: { ...(path ? { path } : {}), ...(query ? { query } : {}) },
    ...(body ? { requestBody: { required: true, content: { 'application/json': { schema: body } } } } : {}),
    ...(takes ? { requestBody: { required: true, content: { [takes]: { schema: z.string() } } } } : {}),
    responses: {
      ...good,
      ...(endpoint.of === 'anybody' ? {} : { '401': refused('Nobody is signed in.') }),
      ...(endpoint.of === 'brand'
        ? { '403': refused('The role does not allow it.'), '404': refused('There is nothing like that.') }
        : {}),
      ...(body || query || takes ? { '422': refused('It cannot be read, or not be done as it stands.') } : {}),
      ...(changes && endpoint.of !== 'anybody'
        ? { '409': refused('It is otherwise than whoever asks believes.') }
        : {}),
      ...(changes && endpoint.of === 'anybody' ? { '403': refused('A page of another site asks.') } : {}),
      ...Object.fromEntries(Object.entries(described.refuses ?? {}).map(([status, says]) => [status, refused(says)])),
    },
  };
}

/**
 * The document, for `/api/openapi.json` and for making clients.
 *
 * @see https://spec.openapis.org/oas/v3.1.0
 */
export function openApiDocument(endpoints: readonly Endpoint[], origin = '') {
  const paths: ZodOpenApiPathsObject = {};
  for (const endpoint of endpoints) {
    const path = pathOf(endpoint);
    paths[path] = { ...paths[path], [endpoint.described.method]: operationOf(endpoint) };
  }
  return createDocument(
    {
      openapi: '3.1.0',
      info: {
        title: 'Playa',
        version: '1',
        description: 'What Playa’s interface asks of its server. Moments are milliseconds since 1970 UTC.',
      },
      servers: [{ url: `${origin}/api` }],
      paths,
      components: {
        securitySchemes: {
          session: { type: 'apiKey', in: 'cookie', name: 'playa_session' },
          csrf: { type: 'apiKey', in: 'header', name: 'x-csrf-token' },
        },
      },
    },
    {
      override: ({ jsonSchema, zodSchema }) =>
        void (zodSchema._zod.def.type === 'custom' && (jsonSchema.type ??= undefined as never)),
    },
  );
}
