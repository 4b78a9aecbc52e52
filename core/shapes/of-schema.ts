// What a JSON Schema says as a shape. JSON Schema 2020-12, Validation: `type` is section 6.1.1, `format` section 7.3.
import type { JsonSchema } from '../items/json-schema.ts';
import { shapeOf } from './of-value.ts';
import type { FieldShape, Shape, ShapeFields } from './shape.ts';

const FORMATS: Readonly<Record<string, Shape>> = {
  'date-time': { type: 'moment' },
  date: { type: 'date' },
  uri: { type: 'link' },
};

/** The shape that a schema describes; undefined where it says nothing but null. */
export function shapeOfSchema(schema: JsonSchema): Shape | undefined {
  const types = [schema.type ?? []].flat().filter((type) => type !== 'null');
  if (types.length > 1)
    return types.some((type) => type === 'object' || type === 'array') ? { type: 'longText' } : { type: 'text' };
  switch (types[0]) {
    case 'object':
      return { type: 'object', fields: fieldsOfSchema(schema) };
    case 'array':
      return { type: 'list', of: (schema.items && shapeOfSchema(schema.items)) ?? { type: 'text' } };
    case 'number':
    case 'integer':
      return { type: 'number' };
    case 'boolean':
      return { type: 'yesNo' };
    case 'string': {
      const known = schema.format === undefined ? undefined : FORMATS[schema.format];
      // A short text may have been long once; whatever it was, words can be made of it.
      const long = schema.examples?.some((example) => shapeOf(example)?.type === 'longText');
      return known ?? { type: long ? 'longText' : 'text' };
    }
    default:
      return undefined;
  }
}

/** The fields of what a schema describes, in its order. */
export function fieldsOfSchema(schema: JsonSchema): ShapeFields {
  const fields: [string, FieldShape][] = [];
  for (const [name, inner] of Object.entries(schema.properties ?? {})) {
    const shape = shapeOfSchema(inner);
    if (shape) fields.push([name, shape]);
  }
  return Object.fromEntries(fields);
}
