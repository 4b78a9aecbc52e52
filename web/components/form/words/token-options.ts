// What a token's tweak is told, as it is kept in the editor's document and copied with it.
import type { TokenOption } from '@playa/core/captions/tokens.ts';
import { fieldLabel } from '@playa/core/items/field-label.ts';

export type TokenOptions = Record<string, TokenOption>;

const SNIPPET = 'snippet.';
export const isSnippet = (field: string): boolean => field.startsWith(SNIPPET);
/** What a field is called on a token; a snippet by its own name. */
export const nameOf = (field: string): string => (isSnippet(field) ? field.slice(SNIPPET.length) : fieldLabel(field));

/** Options as a document or what was pasted holds them; whatever else was pasted has none. */
export function readOptions(value: unknown): TokenOptions | null {
  if (value === null || typeof value !== 'object' || Array.isArray(value)) return null;
  return Object.fromEntries(
    Object.entries(value).map(([name, told]): [string, TokenOption] => [
      name,
      told !== null && typeof told === 'object' && 'field' in told ? { field: String(told.field) } : String(told),
    ]),
  );
}

/** The same from their text. */
export function readOptionsText(text: string | null): TokenOptions | null {
  try {
    return readOptions(JSON.parse(text ?? 'null'));
  } catch {
    return null;
  }
}
