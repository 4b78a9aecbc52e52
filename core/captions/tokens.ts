// A caption as the editor shows it: runs of text, field tokens and the markup around them, instead of a message's
// source. One pattern has this form; a message that chooses by value has one for each of its rows (choices.ts).
import { stringifyMessage, type Model } from 'messageformat';
import { parseCaption } from './caption.ts';
import { MARKS, type Mark } from './pieces.ts';

export type CaptionPart = string | FieldToken | MarkPart | ItemPart;

/** A field in a caption, with what is done to it. */
export interface FieldToken {
  field: string;
  /** The name of one of Playa's functions. */
  tweak?: string | undefined;
  /** What the function is told. */
  options?: Record<string, TokenOption> | undefined;
}

/** What is told: words, or those of a field, which may be a snippet of the brand. */
export type TokenOption = string | { field: string };

/** Where words lead: a field with an address, or an address. */
export type LinkTarget = { field: string } | { address: string };

/** Markup that begins or ends. */
export interface MarkPart {
  mark: Mark;
  open: boolean;
  to?: LinkTarget | undefined;
}

/** The beginning of a line that is an entry of a list. */
export interface ItemPart {
  item: true;
}

/**
 * @returns undefined when the message is more than one pattern of text, tokens and markup
 * @throws CaptionError when the source is not a message
 */
export function captionParts(source: string): CaptionPart[] | undefined {
  const message = parseCaption(source);
  if (message.type !== 'message' || message.declarations.length > 0) return undefined;
  return patternParts(message.pattern);
}

/** The parts of one pattern; undefined when it holds what they cannot say. */
export function patternParts(pattern: Model.Pattern): CaptionPart[] | undefined {
  const parts: CaptionPart[] = [];
  for (const part of pattern) {
    const read = typeof part === 'string' ? part : part.type === 'markup' ? markPart(part) : tokenPart(part);
    if (read === undefined) return undefined;
    parts.push(read);
  }
  return parts;
}

function tokenPart(part: Model.Expression): FieldToken | undefined {
  if (part.arg?.type !== 'variable' || part.attributes) return undefined;
  const token: FieldToken = { field: part.arg.name };
  if (!part.functionRef) return token;
  token.tweak = part.functionRef.name;
  const told = Object.entries(part.functionRef.options ?? {});
  if (told.length === 0) return token;
  token.options = {};
  for (const [name, value] of told) {
    token.options[name] = value.type === 'literal' ? value.value : { field: value.name };
  }
  return token;
}

function markPart(part: Model.Markup): MarkPart | ItemPart | undefined {
  if (part.attributes) return undefined;
  if (part.kind === 'standalone') return part.name === 'item' ? { item: true } : undefined;
  const mark = MARKS.find((each) => each === part.name);
  if (!mark) return undefined;
  if (mark !== 'link' || part.kind === 'close') return { mark, open: part.kind === 'open' };
  const to = part.options?.to;
  if (!to) return undefined;
  return { mark, open: true, to: to.type === 'variable' ? { field: to.name } : { address: to.value } };
}

/** The message that says what the parts show. Braces and backslashes in the text are escaped. */
export function captionSource(parts: readonly CaptionPart[]): string {
  return stringifyMessage({ type: 'message', declarations: [], pattern: partsPattern(parts) });
}

/** The pattern that says what the parts show. */
export function partsPattern(parts: readonly CaptionPart[]): Model.Pattern {
  const pattern: Model.Pattern = [];
  for (const part of parts) {
    const last = pattern.length - 1;
    if (typeof part !== 'string') pattern.push(patternPart(part));
    else if (typeof pattern[last] === 'string') pattern[last] += part;
    else if (part !== '') pattern.push(part);
  }
  return pattern;
}

function patternPart(part: Exclude<CaptionPart, string>): Model.Expression | Model.Markup {
  if ('item' in part) return { type: 'markup', kind: 'standalone', name: 'item' };
  if ('mark' in part) {
    if (!part.open) return { type: 'markup', kind: 'close', name: part.mark };
    const { to } = part;
    if (!to) return { type: 'markup', kind: 'open', name: part.mark };
    const target: Model.Literal | Model.VariableRef =
      'field' in to ? { type: 'variable', name: to.field } : { type: 'literal', value: to.address };
    return { type: 'markup', kind: 'open', name: part.mark, options: { to: target } };
  }
  const options = Object.entries(part.options ?? {}).filter(([, value]) => value !== '');
  const told = (value: TokenOption): Model.Literal | Model.VariableRef =>
    typeof value === 'string' ? { type: 'literal', value } : { type: 'variable', name: value.field };
  return {
    type: 'expression',
    arg: { type: 'variable', name: part.field },
    ...(part.tweak
      ? {
          functionRef: {
            type: 'function',
            name: part.tweak,
            ...(options.length
              ? { options: Object.fromEntries(options.map(([name, value]) => [name, told(value)])) }
              : {}),
          },
        }
      : {}),
  };
}

/** The parts that are a field's token. */
export const isToken = (part: CaptionPart): part is FieldToken => typeof part !== 'string' && 'field' in part;
