// Giving a field another name inside a JSONPath query.
import { jsonpath, type JSONPathQuery } from 'json-p3';

/**
 * A query with a field of the root under its new name, also where a filter looks back at the root. A field that was
 * inside others stands at the top once it is renamed, as the item's own fields do.
 *
 * @param from the field's path with dots, as the source calls it
 * @returns the query as it was when it does not use the field, or cannot be read
 * @example renamedQuery('$.customer.orders[*]', 'customer', 'buyer') // '$.buyer.orders[*]'
 */
export function renamedQuery(query: string, from: string, to: string): string {
  let compiled: JSONPathQuery;
  try {
    compiled = jsonpath.compile(query);
  } catch {
    return query;
  }
  return inQuery(compiled, from, to, true) ? compiled.toString() : query;
}

/** Renames in place; whether anything was. */
function inQuery(query: JSONPathQuery, from: string, to: string, atRoot: boolean): boolean {
  let changed = atRoot && renameHead(query, from, to);
  for (const segment of query.segments)
    for (const selector of segment.selectors)
      if (selector instanceof jsonpath.selectors.FilterSelector)
        changed = inExpression(selector.expression, from, to) || changed;
  return changed;
}

/** The names a query begins with are the path of a field, or lead into one. */
function renameHead(query: JSONPathQuery, from: string, to: string): boolean {
  let path = '';
  for (const [index, { selectors }] of query.segments.entries()) {
    const [only] = selectors;
    // A descendant has no fixed place, so it is no field of the root.
    if (query.segments[index]!.toString().startsWith('..')) return false;
    if (selectors.length !== 1 || !(only instanceof jsonpath.selectors.NameSelector)) return false;
    path = path === '' ? only.name : `${path}.${only.name}`;
    if (path !== from) continue;
    const renamed = jsonpath.compile(`$[${JSON.stringify(to)}]`).segments;
    query.segments.splice(0, index + 1, ...renamed);
    return true;
  }
  return false;
}

/** An expression of a filter; its queries of the root are renamed in. */
function inExpression(expression: unknown, from: string, to: string): boolean {
  const { expressions } = jsonpath;
  if (expression instanceof expressions.RootQuery) return inQuery(expression.path, from, to, true);
  if (expression instanceof expressions.RelativeQuery) return inQuery(expression.path, from, to, false);
  if (expression === null || typeof expression !== 'object') return false;
  let changed = false;
  for (const [name, inner] of Object.entries(expression))
    if (name !== 'token') for (const each of [inner].flat()) changed = inExpression(each, from, to) || changed;
  return changed;
}
