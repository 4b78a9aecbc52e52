// Lists picked out of an item: by a field, or by a JSONPath query (RFC 9535).
import { JSONPathError, jsonpath } from 'json-p3';
import type { FieldValue, Fields } from './item.ts';
import { remembering } from '../text/memo.ts';
import { readField } from './read-field.ts';
import { readExpression } from './regular.ts';

/** Why a path cannot be used, in a sentence. */
export class PathError extends Error {
  override name = 'PathError';
}

/** JSONPath with the functions of RFC 9535 section 2.4 and no others. */
const environment = new jsonpath.JSONPathEnvironment();
environment.functionRegister.clear();
environment.functionRegister.set('length', new jsonpath.functions.Length());
environment.functionRegister.set('count', new jsonpath.functions.Count());
environment.functionRegister.set('value', new jsonpath.functions.Value());
for (const [name, whole] of [
  ['match', true],
  ['search', false],
] as const) {
  const ready = remembering(50, (pattern) => readExpression(pattern, whole) ?? (() => false));
  environment.functionRegister.set(name, {
    argTypes: [jsonpath.FunctionExpressionType.ValueType, jsonpath.FunctionExpressionType.ValueType],
    returnType: jsonpath.FunctionExpressionType.LogicalType,
    call: (text: unknown, pattern: unknown) =>
      typeof text === 'string' && typeof pattern === 'string' && ready(pattern)(text),
  });
}

/** A path made ready: the elements it picks from some fields, in document order. */
export interface Picked {
  read(fields: Fields): FieldValue[];
}

/**
 * Reads a path: one starting with `$` is a JSONPath query over all fields; a query that picks a single list means its
 * elements. Anything else is a field, whose elements are meant when it is a list, and itself when it is not.
 *
 * @throws PathError
 */
export function readPath(path: string): Picked {
  if (!path.startsWith('$')) return { read: (fields) => elementsOf(readField(fields, path)) };
  let query: ReturnType<typeof jsonpath.compile>;
  try {
    query = environment.compile(path);
  } catch (error) {
    if (error instanceof JSONPathError) throw new PathError(`This is not a JSONPath query: ${error.message}`);
    throw error;
  }
  return {
    read: (fields) => {
      const nodes = query.query(fields).values() as FieldValue[];
      return nodes.length === 1 ? elementsOf(nodes[0]) : nodes;
    },
  };
}

function elementsOf(value: FieldValue | undefined): FieldValue[] {
  if (value === undefined || value === null || value === '') return [];
  return Array.isArray(value) ? value : [value];
}
