// Addresses and bodies with field tokens in them. Fields are put in after the structure was read, so that no value can
// break out of its place.
import { captionParts, isToken } from '../captions/tokens.ts';
import type { FieldValue, Fields } from '../items/item.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { readWords, type Words } from './words.ts';

/** Why a template cannot be used, in a sentence. */
export class TemplateError extends Error {
  override name = 'TemplateError';
}

function wordsOf(source: string, locale: string, what: string): Words {
  const words = readWords(source, locale);
  if (words.problem) throw new TemplateError(`${what} cannot be used: ${words.problem}`);
  return words;
}

/**
 * An address. What a field stands for is percent-encoded (RFC 3986 section 2.1), except where the field comes first:
 * then it is an address, or the beginning of one.
 *
 * @throws TemplateError
 */
export function prepareUrl(source: string, locale: string): (fields: Fields) => string {
  const text = source.trim();
  if (text === '') throw new TemplateError('The address is empty.');
  const words = wordsOf(text, locale, 'The address');
  const parts = captionParts(text);
  const first = parts?.[0];
  const leading = first !== undefined && isToken(first) ? first.field : null;
  if (leading === null && !/^https?:\/\/[^/{]+/i.test(text))
    throw new TemplateError('The address must begin with https:// and the name of the service.');
  return (fields) => {
    const encoded: Fields = {};
    for (const path of words.uses) {
      const value = fieldText(readField(fields, path));
      encoded[path] = path === leading ? value : encodeURIComponent(value);
    }
    return words.format(encoded);
  };
}

/**
 * A JSON body: JSON whose texts are wordings. A text that is exactly one field keeps the field's type, so that numbers
 * and lists stay what they are.
 *
 * @throws TemplateError
 */
export function prepareJson(source: string, locale: string): (fields: Fields) => string {
  let shape: FieldValue;
  try {
    shape = JSON.parse(source.trim() || '{}') as FieldValue;
  } catch (error) {
    throw new TemplateError(`The body is not JSON: ${(error as Error).message}`);
  }
  const fill = fillerOf(shape, locale);
  return (fields) => JSON.stringify(fill(fields));
}

function fillerOf(shape: FieldValue, locale: string): (fields: Fields) => FieldValue {
  if (typeof shape === 'string') {
    const words = wordsOf(shape, locale, 'A text of the body');
    const parts = captionParts(shape);
    const only = parts?.length === 1 ? parts[0] : undefined;
    if (only !== undefined && isToken(only) && !only.tweak) return (fields) => readField(fields, only.field) ?? '';
    return (fields) => words.format(fields);
  }
  if (Array.isArray(shape)) {
    const fillers = shape.map((each) => fillerOf(each, locale));
    return (fields) => fillers.map((fill) => fill(fields));
  }
  if (shape !== null && typeof shape === 'object') {
    const fillers = Object.entries(shape).map(([name, each]) => [name, fillerOf(each, locale)] as const);
    return (fields) => Object.fromEntries(fillers.map(([name, fill]) => [name, fill(fields)]));
  }
  return () => shape;
}

/**
 * A form body: one `name=wording` a line, sent as application/x-www-form-urlencoded.
 *
 * @throws TemplateError
 */
export function prepareForm(source: string, locale: string): (fields: Fields) => string {
  const lines = source
    .split('\n')
    .filter((line) => line.trim() !== '')
    .map((line) => {
      const at = line.indexOf('=');
      if (at < 1) throw new TemplateError(`A line of the form has no name: “${line.trim()}”.`);
      return [line.slice(0, at).trim(), wordsOf(line.slice(at + 1), locale, 'A value of the form')] as const;
    });
  return (fields) =>
    new URLSearchParams(lines.map(([name, words]): [string, string] => [name, words.format(fields)])).toString();
}
