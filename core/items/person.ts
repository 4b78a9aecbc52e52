import type { Fields } from './item.ts';
import { readField } from './read-field.ts';

/**
 * The network that knows somebody by an identifier: two networks may both have a number 3. Sources that only a sign-in
 * can see say it beside the identifier.
 *
 * @param path of the identifier: `person.id`
 * @returns empty where nothing is said
 */
export function networkOf(fields: Fields, path: string): string {
  const dot = path.lastIndexOf('.');
  const said = readField(fields, dot < 0 ? 'network' : `${path.slice(0, dot)}.network`);
  return typeof said === 'string' ? said : '';
}

/** Whether a path leads to what tells people apart at their network. */
const isIdentifier = (path: string) => /(?:^|\.)(?:person|author)\.id$/.test(path);

/** A person's identifier as it is the only one of its kind over all networks; any other value as it is. */
export function uniqueValue(fields: Fields, path: string, value: string): string {
  const network = isIdentifier(path) ? networkOf(fields, path) : '';
  return network === '' ? value : `${network}\n${value}`;
}
