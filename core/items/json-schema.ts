// JSON Schemas (draft 2020-12) learned from examples: what a web hook's bodies look like.
import { z } from 'zod';
import type { FieldValue } from './item.ts';

/** The part of JSON Schema that is learned. */
export interface JsonSchema {
  $schema?: string | undefined;
  type?: string | string[] | undefined;
  format?: string | undefined;
  properties?: Record<string, JsonSchema> | undefined;
  required?: string[] | undefined;
  items?: JsonSchema | undefined;
  examples?: FieldValue[] | undefined;
}

export const DIALECT = 'https://json-schema.org/draft/2020-12/schema';

export const jsonSchemaSchema: z.ZodType<JsonSchema> = z.lazy(() =>
  z.object({
    $schema: z.string().optional(),
    type: z.union([z.string(), z.array(z.string())]).optional(),
    format: z.string().optional(),
    properties: z.record(z.string(), jsonSchemaSchema).optional(),
    required: z.array(z.string()).optional(),
    items: jsonSchemaSchema.optional(),
    examples: z.array(z.custom<FieldValue>(() => true)).optional(),
  }),
);

/** The schema that describes one example and nothing more. */
export function inferSchema(example: FieldValue): JsonSchema {
  if (example === null) return { type: 'null' };
  if (Array.isArray(example)) {
    const items = example
      .map(inferSchema)
      .reduce<JsonSchema | undefined>((a, b) => (a ? mergeSchemas(a, b) : b), undefined);
    return { type: 'array', ...(items ? { items } : {}) };
  }
  switch (typeof example) {
    case 'object':
      return {
        type: 'object',
        properties: Object.fromEntries(Object.entries(example).map(([name, value]) => [name, inferSchema(value)])),
        required: Object.keys(example),
      };
    case 'number':
      return { type: Number.isInteger(example) ? 'integer' : 'number', examples: [example] };
    case 'boolean':
      return { type: 'boolean', examples: [example] };
    default: {
      const format = formatOf(example);
      return { type: 'string', ...(format ? { format } : {}), examples: [example.slice(0, 200)] };
    }
  }
}

/** Formats of JSON Schema (Validation, section 7.3) that tell something about how a text can be used. */
function formatOf(text: string): string | undefined {
  if (/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?(Z|[+-]\d\d:\d\d)$/i.test(text)) return 'date-time';
  if (/^\d{4}-\d\d-\d\d$/.test(text)) return 'date';
  if (/^https?:\/\/\S+$/i.test(text)) return 'uri';
  if (/^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(text)) return 'email';
  return undefined;
}

/** The schema that both describe: what only one of them has is no longer required. */
export function mergeSchemas(a: JsonSchema, b: JsonSchema): JsonSchema {
  const types = mergeTypes(typesOf(a), typesOf(b));
  const merged: JsonSchema = {};
  if (a.$schema) merged.$schema = a.$schema;
  if (types.length) merged.type = types.length === 1 ? types[0] : types;
  // A text that is not always a date is no date.
  const texts = [a, b].filter((each) => typesOf(each).includes('string'));
  const [format] = texts.map((each) => each.format);
  if (format && texts.every((each) => each.format === format)) merged.format = format;
  if (a.properties || b.properties) {
    merged.properties = { ...a.properties };
    for (const [name, schema] of Object.entries(b.properties ?? {})) {
      const known = Object.hasOwn(merged.properties, name) ? merged.properties[name] : undefined;
      merged.properties[name] = known ? mergeSchemas(known, schema) : schema;
    }
    const both = a.properties && b.properties;
    merged.required = both
      ? (a.required ?? []).filter((name) => b.required?.includes(name))
      : (a.required ?? b.required ?? []);
  }
  const items = a.items && b.items ? mergeSchemas(a.items, b.items) : (a.items ?? b.items);
  if (items) merged.items = items;
  const examples = [...(a.examples ?? []), ...(b.examples ?? [])];
  if (examples.length) merged.examples = [...new Set(examples)].slice(-3);
  return merged;
}

const typesOf = (schema: JsonSchema): string[] =>
  schema.type === undefined ? [] : Array.isArray(schema.type) ? schema.type : [schema.type];

function mergeTypes(a: readonly string[], b: readonly string[]): string[] {
  const all = [...new Set([...a, ...b])];
  // Every integer is a number.
  return (all.includes('number') ? all.filter((type) => type !== 'integer') : all).sort();
}
