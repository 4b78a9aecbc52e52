import { MessageFormat, MessageSyntaxError, parseMessage, validate, visit, type Model } from 'messageformat';
import type { Fields } from '../items/item.ts';
import { isEmpty, readField } from '../items/read-field.ts';
import { captionFunctions, tweakNamed } from './functions.ts';

/** A caption made ready for many items: parsed once, formatted often. */
export interface Caption {
  /** The words for one item. Fields that are not there leave nothing behind. */
  format(fields: Fields): string;
  /** The paths of the fields it uses, in order, each once. */
  uses: readonly string[];
  /** Which of them say nothing for this item. */
  emptyIn(fields: Fields): string[];
}

/** Why a text is not a message, and where. */
export class CaptionError extends Error {
  override name = 'CaptionError';
  /** Offset in UTF-16 units from the start of the text; null when the trouble has no one place. */
  readonly at: number | null;
  constructor(message: string, at: number | null) {
    super(message);
    this.at = at;
  }
}

/**
 * Reads a caption, a Unicode MessageFormat 2 message (UTS #35 part 9).
 *
 * @param locale a BCP 47 tag; sentences are cut and numbers are written by its rules
 * @throws CaptionError when it is not a valid message or uses a function Playa does not have
 */
export function readCaption(source: string, locale = 'en'): Caption {
  const message = parseCaption(source);
  const uses: string[] = [];
  const declared = new Set(message.declarations.filter((d) => d.type === 'local').map((d) => d.name));
  visit(message, {
    functionRef({ name }) {
      if (!tweakNamed(name) && !BUILT_IN.has(name)) throw new CaptionError(`There is no tweak called “${name}”.`, null);
    },
    value(value) {
      if (value.type === 'variable' && !declared.has(value.name) && !uses.includes(value.name)) uses.push(value.name);
    },
  });
  // Isolates would travel with the text to the networks, where they count as characters and show as boxes.
  const formatter = new MessageFormat(locale, message, { bidiIsolation: 'none', functions: captionFunctions(locale) });
  return {
    uses,
    emptyIn: (fields) => uses.filter((path) => isEmpty(readField(fields, path))),
    format: (fields) => formatter.format(speakable(fields, uses), ignore),
  };
}

/** The functions every MessageFormat 2 implementation has. */
const BUILT_IN = new Set(['string', 'number', 'integer', 'offset']);

/** The data model of a caption, with errors in Playa's words. */
export function parseCaption(source: string): Model.Message {
  try {
    const message = parseMessage(source);
    validate(message);
    return message;
  } catch (error) {
    if (error instanceof MessageSyntaxError) {
      throw new CaptionError(`This cannot be read at character ${error.start + 1}.`, error.start);
    }
    throw new CaptionError(error instanceof Error ? error.message : String(error), null);
  }
}

// Numbers are handed in as their digits: years and identifiers must not come out as 2,026; `:number` groups what it is
// asked to. An absent field formats as a fallback (`{$title}`) and would reach the audience; so absent ones are handed in empty.
function speakable(fields: Fields, uses: readonly string[]): Record<string, unknown> {
  let handed: Record<string, unknown> = fields;
  for (const path of uses) {
    const direct = Object.hasOwn(fields, path) ? fields[path] : undefined;
    if (typeof direct === 'string') continue;
    const value = readField(fields, path);
    if (handed === fields) handed = { ...fields };
    handed[path] =
      value === undefined || value === null
        ? ''
        : Array.isArray(value)
          ? value.map((entry) => (typeof entry === 'object' ? '' : String(entry))).join(', ')
          : typeof value === 'object'
            ? ''
            : String(value);
  }
  return handed;
}

const ignore = () => {};
