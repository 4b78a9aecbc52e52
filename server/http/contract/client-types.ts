// The types of the interface's client, made from the OpenAPI document.
import openapiTS, { astToString } from 'openapi-typescript';
import ts from 'typescript';
import type { openApiDocument } from './document.ts';

/** What the interface computes with has its type in core: there it is the same, and says more. */
const IN_CORE: Record<string, { type: string; file: string }> = {
  FieldValue: { type: 'FieldValue', file: 'items/item.ts' },
  Fields: { type: 'Fields', file: 'items/item.ts' },
  LearnedSchema: { type: 'JsonSchema', file: 'items/json-schema.ts' },
  Condition: { type: 'Group', file: 'conditions/condition.ts' },
  Step: { type: 'Step', file: 'steps/step.ts' },
  Definition: { type: 'Definition', file: 'workflow/definition.ts' },
  WrittenPost: { type: 'WrittenPost', file: 'posts/written.ts' },
  Trace: { type: 'Trace', file: 'model/cells.ts' },
  OutletKind: { type: 'OutletKind', file: 'outlets/kinds.ts' },
  NetworkKind: { type: 'NetworkKind', file: 'outlets/networks.ts' },
  ActName: { type: 'ActName', file: 'model/acts.ts' },
};

const HEAD = [
  '// Made by `npm run api-types` from the endpoints in server/http/endpoints. Not changed by hand.',
  ...Object.values(IN_CORE).map(({ type, file }) => `import type { ${type} } from '@playa/core/${file}';`),
].join('\n');

/** Every refusal is the same to the interface (lib/api.ts), so that only good answers have types. */
const withoutRefusals = (key: string, value: unknown): unknown => (/^[45]\d\d$/.test(key) ? undefined : value);

/** The text of web/lib/api-types.ts. */
export async function clientTypes(document: ReturnType<typeof openApiDocument>): Promise<string> {
  const types = await openapiTS(JSON.stringify(document, withoutRefusals), {
    defaultNonNullable: false,
    transform(_schema, { path }) {
      const name = /^#\/components\/schemas\/(\w+?)(?:Output)?$/.exec(path ?? '')?.[1];
      const known = name === undefined ? undefined : IN_CORE[name];
      return known && ts.factory.createTypeReferenceNode(known.type);
    },
  });
  // The client goes by the names of endpoints; of an answer it reads the body.
  const named = types.filter((node) => !(ts.isInterfaceDeclaration(node) && node.name.text === 'paths'));
  // What is never there, and what is there every time, need not be said for every endpoint.
  const said = astToString(named)
    .replace(/^ *headers: \{\s*\[name: string\]: unknown;\s*\};\n/gm, '')
    .replace(/^ *\/\*\* @enum \{string\} \*\/\n/gm, '')
    .replace(/^ *\w+\?: never;\n/gm, '')
    .replace(/^( *\d{3}): \{\s*\};/gm, '$1: void;')
    .replace(/^ *\w+\??: \{\s*\};\n/gm, '');
  return `${HEAD}\n\n${said}`;
}
