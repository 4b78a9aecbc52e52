// Where the interface's client finds each endpoint, made from the OpenAPI document.
import type { openApiDocument } from './document.ts';

const HEAD = '// Made by `npm run api-types` from the endpoints in server/http/endpoints. Not changed by hand.';
const METHODS = ['get', 'post', 'put', 'patch', 'delete'] as const;

/** The text of web/lib/api-addresses.ts: the method and path of each endpoint by its name. */
export function clientAddresses(document: ReturnType<typeof openApiDocument>): string {
  const lines = Object.entries(document.paths ?? {}).flatMap(([path, at]) =>
    METHODS.flatMap((method) => {
      const name = at[method]?.operationId;
      return name === undefined ? [] : [`  ${name}: '${method.toUpperCase()} ${path}',`];
    }),
  );
  return `${HEAD}\n\n/** The method and path of each endpoint by its name. */\nexport const ADDRESSES = {\n${lines.join('\n')}\n} as const;\n`;
}
