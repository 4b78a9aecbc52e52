// Changes of a wording that a remedy makes, through its parts: whatever they do not touch stays as it was written.
import { captionChoice, choiceSource } from './choices.ts';
import { withoutHashtags, withoutLinks } from '../text/clean.ts';
import { withoutMentions } from '../text/hashtags.ts';
import { captionParts, captionSource, isToken, type CaptionPart } from './tokens.ts';

/**
 * A wording with every one of its patterns changed.
 *
 * @returns undefined when it cannot be read, or is more than tokens and rows can show
 */
export function changedWords(source: string, change: (parts: CaptionPart[]) => CaptionPart[]): string | undefined {
  try {
    const parts = captionParts(source);
    if (parts) return captionSource(change(parts));
    const choice = captionChoice(source);
    return (
      choice && choiceSource({ ...choice, rows: choice.rows.map((row) => ({ ...row, parts: change(row.parts) })) })
    );
  } catch {
    return undefined;
  }
}

/** Without tokens of these fields, and with the gaps that they leave closed. */
export const withoutFields = (fields: ReadonlySet<string>) => (parts: CaptionPart[]) =>
  closedGaps(parts.filter((part) => !isToken(part) || !fields.has(part.field)));

/** With a tweak on every token that has none yet and is worth it. */
export const withTweak = (tweak: string, applies: (field: string) => boolean) => (parts: CaptionPart[]) =>
  parts.map((part) => (isToken(part) && !part.tweak && applies(part.field) ? { ...part, tweak } : part));

/** With something taken out of what was written by hand. */
const withWritten = (change: (text: string) => string) => (parts: CaptionPart[]) =>
  closedGaps(parts.map((part) => (typeof part === 'string' ? change(part) : part)));

export const noLinksWritten = withWritten((text) => inside(text, withoutLinks));
export const noHashtagsWritten = withWritten((text) => inside(text, withoutHashtags));
export const noMentionsWritten = withWritten(withoutMentions);

/** Changes the words of a text and leaves the white space at its ends, which keeps tokens apart. */
function inside(text: string, change: (text: string) => string): string {
  const body = text.trim();
  if (body === '') return text;
  const start = text.indexOf(body);
  return text.slice(0, start) + change(body) + text.slice(start + body.length);
}

function closedGaps(parts: readonly CaptionPart[]): CaptionPart[] {
  const closed: CaptionPart[] = [];
  for (const part of parts) {
    const last = closed.at(-1);
    if (typeof part === 'string' && typeof last === 'string') closed[closed.length - 1] = last + part;
    else closed.push(part);
  }
  return closed.map((part, index) => {
    if (typeof part !== 'string') return part;
    let text = part.replace(/[^\S\n]{2,}/g, ' ').replace(/\n{3,}/g, '\n\n');
    if (index === 0) text = text.trimStart();
    if (index === closed.length - 1) text = text.trimEnd();
    return text;
  });
}
