import { MessageFormat, MessageSyntaxError, parseMessage, validate, visit, type Model } from 'messageformat';
import type { Fields } from '../items/item.ts';
import { isWordless, readField } from '../items/read-field.ts';
import '../said/parts-of-text.ts';
import { asText, captionFunctions, tweakNamed, type Surroundings } from './functions.ts';
import { LONGEST_WORDING, within } from './limits.ts';
import { BULLET, joinedPieces, MARKS, type Mark, type Piece } from './pieces.ts';
import { remembered } from './remembered.ts';
import { speakable } from './spoken.ts';
import { straight } from './straight.ts';
import { writePlain } from './write/plain.ts';

/** A caption made ready for many items: parsed once, formatted often. */
export interface Caption {
  /** The words for one item, without formatting. Fields that are not there leave nothing behind. */
  format(fields: Fields, when?: When): string;
  /** The words with what is known of their parts, to be fitted and written for a kind of outlet. */
  pieces(fields: Fields, when?: When): Piece[];
  /** The paths of the fields it uses, in order, each once. */
  uses: readonly string[];
  /** Which of them say nothing for this item. */
  emptyIn(fields: Fields): string[];
  /** Whether anything in it is bold, a link, kept or the like. */
  marked: boolean;
}

/** When a caption is worded, and for whom. */
export type When = Pick<Surroundings, 'now' | 'chance'>;

/**
 * What is wrong with a wording. syntax: it cannot be read as a message. unknown-tweak, unknown-formatting: it uses one that
 * Playa does not have. message: it is well formed, and says something twice, or leaves a case out.
 */
export type CaptionFault = 'syntax' | 'unknown-tweak' | 'unknown-formatting' | 'message';

/** Where it is, in UTF-16 units from the start of the text; the end is not included. */
export interface CaptionSpan {
  start: number;
  end: number;
}

/** Why a text is not a message, and where. */
export class CaptionError extends Error {
  override name = 'CaptionError';
  readonly code: CaptionFault;
  /** Null when the trouble has no one place. */
  readonly at: CaptionSpan | null;
  constructor(code: CaptionFault, message: string, at: CaptionSpan | null) {
    super(message);
    this.code = code;
    this.at = at;
  }
}

/**
 * Reads a caption, a Unicode MessageFormat 2 message (UTS #35 part 9).
 *
 * @param locale a BCP 47 tag; sentences are cut and numbers are written by its rules
 * @param zone the IANA name of the time zone in which dates are said
 * @throws CaptionError when it is not a valid message or uses a function or markup that Playa does not have
 */
export const readCaption = (source: string, locale = 'en', zone = 'UTC'): Caption => readOnce(source, locale, zone);

const readOnce = remembered((source: string, locale: string, zone: string): Caption => {
  const message = withoutLiterals(parseCaption(source));
  const uses: string[] = [];
  const declared = new Set(message.declarations.filter((d) => d.type === 'local').map((d) => d.name));
  let marked = false;
  let standard = false;
  visit(message, {
    functionRef({ name }) {
      if (BUILT_IN.has(name)) standard = true;
      else if (!tweakNamed(name))
        throw new CaptionError('unknown-tweak', `There is no tweak called “${name}”.`, placeOf(source, `:${name}`));
    },
    markup({ name }) {
      marked = true;
      if (name !== 'item' && !isMark(name))
        throw new CaptionError(
          'unknown-formatting',
          `There is no formatting called “${name}”.`,
          placeOf(source, `#${name}`),
        );
    },
    value(value) {
      if (value.type === 'variable' && !declared.has(value.name) && !uses.includes(value.name)) uses.push(value.name);
    },
  });
  const around: Surroundings = { locale, zone };
  const patterns = message.type === 'message' ? [message.pattern] : message.variants.map(({ value }) => value);
  // Isolates would travel with the text to the networks, where they count as characters and show as boxes.
  const formatter = new MessageFormat(locale, message, { bidiIsolation: 'none', functions: captionFunctions(around) });
  const pieces = (fields: Fields, when: When = NEVER): Piece[] => {
    around.now = when.now;
    around.chance = when.chance;
    return piecesWithin(piecesOf(formatter.formatToParts(speakable(fields, uses), ignore), patterns));
  };
  const straightOn = straight(message, around);
  /** Undefined where a function could not read what it was given. */
  const say = (fields: Fields): string | undefined => {
    try {
      if (straightOn) return straightOn(fields);
    } catch {
      return undefined;
    }
    let failed = false;
    const said = formatter.format(speakable(fields, uses), () => (failed = true));
    return failed ? undefined : said;
  };
  return {
    uses,
    marked,
    emptyIn: (fields) => uses.filter((path) => isWordless(readField(fields, path))),
    pieces,
    format(fields, when = NEVER) {
      if (marked || standard) return writePlain(pieces(fields, when));
      around.now = when.now;
      around.chance = when.chance;
      // What a function cannot read would come out as `{$stars}`; as pieces it is left out.
      return within(say(fields) ?? writePlain(pieces(fields, when)), LONGEST_WORDING);
    },
  };
});

/** Where a name stands in a placeholder of a message; null when it is not found there as it is written. */
function placeOf(source: string, name: string): CaptionSpan | null {
  const escaped = name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  const found = new RegExp(`\\{[^{}]*?(${escaped})(?![\\p{L}\\p{N}_.-])`, 'u').exec(source);
  if (!found) return null;
  const end = found.index + found[0].length;
  return { start: end - name.length, end };
}

const NEVER: When = {};
const isMark = (name: string): name is Mark => (MARKS as readonly string[]).includes(name);

/** The functions every MessageFormat 2 implementation has. */
const BUILT_IN = new Set(['string', 'number', 'integer', 'offset']);

/** The data model of a caption, with errors in Playa's words. It is kept for the next who asks: nobody changes it. */
export const parseCaption = remembered((source: string): Model.Message => {
  try {
    const message = parseMessage(source);
    validate(message);
    return message;
  } catch (error) {
    if (error instanceof MessageSyntaxError) {
      const { start, end } = error;
      throw new CaptionError('syntax', `This cannot be read at character ${start + 1}.`, {
        start,
        end: Math.min(source.length, Math.max(end ?? 0, start + 1)),
      });
    }
    throw new CaptionError('message', error instanceof Error ? error.message : String(error), null);
  }
});

/** The same message with plain literals as text: they are words that somebody wrote, not values. */
function withoutLiterals(message: Model.Message): Model.Message {
  const plain = (pattern: Model.Pattern): Model.Pattern =>
    pattern.map((part) =>
      typeof part !== 'string' && part.type === 'expression' && part.arg?.type === 'literal' && !part.functionRef
        ? part.arg.value
        : part,
    );
  return message.type === 'message'
    ? { ...message, pattern: plain(message.pattern) }
    : { ...message, variants: message.variants.map((variant) => ({ ...variant, value: plain(variant.value) })) };
}

/** The beginning of a caption that has grown out of all measure. */
function piecesWithin(pieces: Piece[]): Piece[] {
  let left = LONGEST_WORDING;
  if (pieces.reduce((sum, { text }) => sum + text.length, 0) <= left) return pieces;
  return pieces.flatMap((piece) => {
    if (left <= 0) return [];
    const text = within(piece.text, left);
    left -= piece.text.length;
    return [{ ...piece, text }];
  });
}

type Part = ReturnType<MessageFormat<string>['formatToParts']>[number];

function piecesOf(parts: readonly Part[], patterns: readonly Model.Pattern[]): Piece[] {
  const pieces: Piece[] = [];
  const pattern = patterns.length === 1 ? patterns[0] : patterns.find((each) => saidBy(each, parts));
  const open: { name: Mark; to: string; number: number }[] = [];
  let optional = 0;
  for (const [index, part] of parts.entries()) {
    if (part.type === 'markup') {
      const { kind, name, options } = part as { kind: string; name: string; options?: Record<string, unknown> };
      if (kind === 'standalone' && name === 'item') pieces.push({ text: BULLET, item: true });
      else if (kind === 'open' && isMark(name))
        open.push({ name, to: webLink(asText(options?.to)), number: name === 'optional' ? ++optional : 0 });
      else if (kind === 'close') {
        const last = open.findLastIndex((each) => each.name === name);
        if (last >= 0) open.splice(last, 1);
      }
      continue;
    }
    if (part.type === 'fallback' || part.type === 'bidiIsolation') continue;
    const text = partText(part as { value?: unknown; parts?: { value?: unknown }[] });
    const piece: Piece = { text };
    if (part.type !== 'text') piece.field = fieldOf(pattern?.[index]);
    for (const { name, to, number } of open) {
      if (name === 'link') {
        if (to !== '') piece.link = to;
      } else if (name === 'optional') piece.optional ??= number;
      else piece[name] = true;
    }
    pieces.push(piece);
  }
  return joinedPieces(pieces);
}

// Every element of a pattern gives one part, so that a part's number says which it came from.

/** Whether parts may have come from this of several patterns. */
function saidBy(pattern: Model.Pattern, parts: readonly Part[]): boolean {
  return (
    pattern.length === parts.length &&
    pattern.every((element, index) => {
      const part = parts[index]!;
      return typeof element === 'string'
        ? part.type === 'text' && part.value === element
        : part.type !== 'text' && (element.type === 'markup') === (part.type === 'markup');
    })
  );
}

function fieldOf(element: Model.Pattern[number] | undefined): string {
  if (element === undefined || typeof element === 'string' || element.type !== 'expression') return '';
  return element.arg?.type === 'variable' ? element.arg.name : '';
}

function partText(part: { value?: unknown; parts?: { value?: unknown }[] }): string {
  return part.parts ? part.parts.map(({ value }) => String(value ?? '')).join('') : String(part.value ?? '');
}

/** An address that words may lead to; empty for anything else, so that nothing but the web is linked. */
function webLink(address: string): string {
  const trimmed = address.trim();
  return /^(?:https?|mailto):/i.test(trimmed) && URL.canParse(trimmed) ? trimmed : '';
}

const ignore = () => {};
