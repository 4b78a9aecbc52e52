// JSON Schemas (draft 2020-12) learned from examples: what a web hook's bodies look like.
import { z } from 'zod';
import { cutGraphemes } from '../text/graphemes.ts';
import { wellFormed } from '../text/well-formed.ts';
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

/**
 * How much is learned: a schema is there to help people write captions, and describes no more than they could look
 * through. What lies beyond is taken all the same, it is only not described.
 */
export const LEARNED = {
  /** Records and lists within one another. Each takes two levels in a schema. */
  depth: 12,
  /** Fields of one record. */
  fields: 200,
  /** Fields and elements in all. */
  values: 1000,
  /** Elements of a list, the first ones. */
  elements: 20,
  /** Graphemes of an example. */
  example: 200,
} as const;

/** The schema that describes one example, as far as it is learned, and nothing more. */
export function inferSchema(example: FieldValue): JsonSchema {
  return infer(example, { left: LEARNED.values }, 0);
}

function infer(example: FieldValue, room: { left: number }, depth: number): JsonSchema {
  if (example === null) return { type: 'null' };
  const deeper = (value: FieldValue) => infer(value, room, depth + 1);
  if (Array.isArray(example)) {
    if (depth >= LEARNED.depth) return { type: 'array' };
    const items = example
      .slice(0, Math.max(0, Math.min(LEARNED.elements, room.left)))
      .filter(() => room.left-- > 0)
      .map(deeper)
      .reduce<JsonSchema | undefined>((a, b) => (a ? mergeSchemas(a, b) : b), undefined);
    return { type: 'array', ...(items ? { items } : {}) };
  }
  switch (typeof example) {
    case 'object': {
      if (depth >= LEARNED.depth) return { type: 'object' };
      const fields = Object.entries(example)
        .slice(0, Math.max(0, Math.min(LEARNED.fields, room.left)))
        .filter(([name]) => name !== '__proto__' && room.left-- > 0);
      return {
        type: 'object',
        properties: Object.fromEntries(fields.map(([name, value]) => [name, deeper(value)])),
        required: fields.map(([name]) => name),
      };
    }
    case 'number':
      return { type: Number.isInteger(example) ? 'integer' : 'number', examples: [example] };
    case 'boolean':
      return { type: 'boolean', examples: [example] };
    default: {
      const format = formatOf(example);
      return {
        type: 'string',
        ...(format ? { format } : {}),
        examples: [cutGraphemes(wellFormed(example), LEARNED.example)],
      };
    }
  }
}

/** No date, address of a page or of a mailbox that is meant as one is longer (RFC 9110 section 4.1 advises 8000). */
const LONGEST_FORMATTED = 2000;

/** Formats of JSON Schema (Validation, section 7.3) that tell something about how a text can be used. */
function formatOf(text: string): string | undefined {
  if (text.length > LONGEST_FORMATTED) return undefined;
  if (/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?(Z|[+-]\d\d:\d\d)$/i.test(text)) return 'date-time';
  if (/^\d{4}-\d\d-\d\d$/.test(text)) return 'date';
  if (/^https?:\/\/\S+$/i.test(text)) return 'uri';
  if (/^[^\s@]{1,64}@[^\s@.]+(?:\.[^\s@.]+)+$/.test(text)) return 'email';
  return undefined;
}

/** The schema that both describe: what only one of them has is no longer required. It grows no larger than is learned. */
export function mergeSchemas(a: JsonSchema, b: JsonSchema): JsonSchema {
  const merged = merge(a, b, { left: LEARNED.values });
  if (a.$schema) merged.$schema = a.$schema;
  return merged;
}

function merge(a: JsonSchema, b: JsonSchema, room: { left: number }): JsonSchema {
  const types = mergeTypes(typesOf(a), typesOf(b));
  const merged: JsonSchema = {};
  if (types.length) merged.type = types.length === 1 ? types[0] : types;
  // A text that is not always a date is no date.
  const texts = [a, b].filter((each) => typesOf(each).includes('string'));
  const [format] = texts.map((each) => each.format);
  if (format && texts.every((each) => each.format === format)) merged.format = format;
  if (a.properties || b.properties) {
    const properties = new Map<string, JsonSchema>();
    // What was learned first stays; what is new comes in as long as there is room.
    for (const [name, known] of Object.entries(a.properties ?? {})) {
      if (properties.size >= LEARNED.fields || room.left-- <= 0) break;
      const other = b.properties && Object.hasOwn(b.properties, name) ? b.properties[name] : undefined;
      properties.set(name, other ? merge(known, other, room) : known);
    }
    for (const [name, schema] of Object.entries(b.properties ?? {})) {
      if (properties.has(name)) continue;
      if (properties.size >= LEARNED.fields || room.left-- <= 0) break;
      properties.set(name, schema);
    }
    merged.properties = Object.fromEntries(properties);
    const alsoThere = a.properties && b.properties && new Set(b.required);
    const required = alsoThere
      ? (a.required ?? []).filter((name) => alsoThere.has(name))
      : (a.required ?? b.required ?? []);
    merged.required = required.filter((name) => properties.has(name));
  }
  const items = a.items && b.items ? merge(a.items, b.items, room) : (a.items ?? b.items);
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
