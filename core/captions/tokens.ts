// A caption as the editor shows it: runs of text and field tokens, instead of a message's source. Only simple messages
// (one pattern, no choice by value) have this form; the others are shown as text until their own editor comes.
import { stringifyMessage, type Model } from 'messageformat';
import { parseCaption } from './caption.ts';

export type CaptionPart = string | FieldToken;

/** A field in a caption, with what is done to it. */
export interface FieldToken {
  field: string;
  /** The name of one of Playa's functions. */
  tweak?: string | undefined;
}

/**
 * @returns undefined when the message is more than text and tokens
 * @throws CaptionError when the source is not a message
 */
export function captionParts(source: string): CaptionPart[] | undefined {
  const message = parseCaption(source);
  if (message.type !== 'message' || message.declarations.length > 0) return undefined;
  const parts: CaptionPart[] = [];
  for (const part of message.pattern) {
    if (typeof part === 'string') parts.push(part);
    else if (
      part.type === 'expression' &&
      part.arg?.type === 'variable' &&
      !part.attributes &&
      plain(part.functionRef)
    ) {
      parts.push({ field: part.arg.name, tweak: part.functionRef?.name });
    } else return undefined;
  }
  return parts;
}

function plain(functionRef: Model.FunctionRef | undefined): boolean {
  return !functionRef?.options || Object.keys(functionRef.options).length === 0;
}

/** The message that says what the parts show. Braces and backslashes in the text are escaped. */
export function captionSource(parts: readonly CaptionPart[]): string {
  const pattern: Model.Pattern = [];
  for (const part of parts) {
    const last = pattern.length - 1;
    if (typeof part !== 'string') {
      pattern.push({
        type: 'expression',
        arg: { type: 'variable', name: part.field },
        ...(part.tweak ? { functionRef: { type: 'function', name: part.tweak } } : {}),
      });
    } else if (typeof pattern[last] === 'string') pattern[last] += part;
    else if (part !== '') pattern.push(part);
  }
  return stringifyMessage({ type: 'message', declarations: [], pattern });
}
