// Taking out of a text what does not travel: blocks of links, hashtags, emoji. What was between them is closed up, so
// that no doubled spaces and no stray punctuation are left behind.
import { tidyLines } from './plain.ts';

/** An address in a text, without the punctuation that closes the sentence after it. */
const LINK = /(?:https?:\/\/|www\.)\S*[^\s.,;:!?)\]}"'…»”’]/giu;
/** A hashtag as UAX #31 section 6 has them: a number sign and then what may continue an identifier. */
const HASHTAG =
  /(?<![\p{XID_Continue}&/])[#＃](?=[\p{XID_Continue}\p{Extended_Pictographic}])(?:[\p{XID_Continue}\p{Extended_Pictographic}+-]|\u200d|\ufe0f)+/gu;
/** An emoji with what belongs to it: joiners, skin tones, variation selectors, flags, keycaps (UTS #51, ED-17). */
const EMOJI =
  /(?:\p{RI}\p{RI}|[0-9#*]\ufe0f?\u20e3|\p{Emoji_Presentation}\ufe0f?[\u{1f3fb}-\u{1f3ff}]?|\p{Extended_Pictographic}\ufe0f[\u{1f3fb}-\u{1f3ff}]?|\p{Extended_Pictographic}[\u{1f3fb}-\u{1f3ff}])(?:\u200d(?:\p{Emoji_Presentation}|\p{Extended_Pictographic})\ufe0f?[\u{1f3fb}-\u{1f3ff}]?)*[\u{e0020}-\u{e007f}]*/gu;

/** The text without its addresses. */
export const withoutLinks = (text: string): string => closedUp(text, LINK);
/** The text without its hashtags. */
export const withoutHashtags = (text: string): string => closedUp(text, HASHTAG);
/** The text without its emoji. */
export const withoutEmoji = (text: string): string => closedUp(text, EMOJI);

/** Nobody writes what comes together again more often than this when something between is taken out. */
const MOST_ROUNDS = 20;

function closedUp(from: string, what: RegExp): string {
  // Without long runs of white space, so that looking for what stands around them takes no time.
  let text = tidyLines(from);
  let before = text;
  // Taking one thing out can bring two halves of another together: until nothing is left to take out.
  for (let rounds = 0; rounds < MOST_ROUNDS; rounds++, before = text) {
    text = tidyLines(
      before
        .replace(what, '\ue000')
        // Brackets that held nothing else go with it, and so does what introduced it.
        .replace(/[([{]\s*\ue000(?:\s*\ue000)*\s*[)\]}]/gu, '\ue000')
        .replace(/\s*\ue000(?=\s*[.,;:!?])/gu, '')
        .replaceAll('\ue000', ' '),
    );
    if (text === before || !what.test(reset(what, text))) return text;
  }
  return text;
}

function reset(what: RegExp, text: string): string {
  what.lastIndex = 0;
  return text;
}

/** A line that only leads elsewhere: little but links, hashtags, or a label before one of them. */
function isBlockLine(line: string): boolean {
  const trimmed = line.trim();
  if (trimmed === '') return false;
  // A rule drawn with signs, or a heading such as "LINKS" or "Follow us:".
  if (/^[\p{P}\p{S}\s]+$/u.test(trimmed) && !/\p{Extended_Pictographic}/u.test(trimmed)) return true;
  const links = trimmed.match(LINK) ?? [];
  const tags = trimmed.match(HASHTAG) ?? [];
  if (links.length + tags.length === 0) return false;
  const words = withoutHashtags(withoutLinks(trimmed)).match(/[\p{L}\p{N}]+/gu)?.length ?? 0;
  if (links.length === 0) return words <= tags.length;
  // "Timetable: https://…" is a label; "Bring a towel and read https://… first" is a sentence.
  return words <= 4 * links.length && /[:\-–—→►»|]\s*$|^$/u.test(trimmed.split(LINK)[0]!.trim());
}

/**
 * The useful beginning of a long description: up to the first block of lines that only lead elsewhere (links, hashtags,
 * rules, labels before links), as people put them below what they have to say. A text that begins with such a block is
 * left whole, since nothing says where its useful part begins.
 */
export function usefulBeginning(text: string): string {
  const lines = text.replace(/\r\n?/g, '\n').split('\n');
  const kept: string[] = [];
  for (const [index, line] of lines.entries()) {
    if (!isBlockLine(line)) {
      kept.push(line);
      continue;
    }
    // A lone link between paragraphs is part of what is said; a block goes on, or ends the text.
    const next = nextWithWords(lines, index + 1);
    if (next === undefined || isBlockLine(next) || isHeading(kept)) break;
    kept.push(line);
  }
  const beginning = tidyLines(withoutTrailingHeading(kept).join('\n'));
  return beginning === '' ? tidyLines(text) : beginning;
}

/** The next line that is not empty. */
function nextWithWords(lines: readonly string[], from: number): string | undefined {
  for (let index = from; index < lines.length; index++) if (lines[index]!.trim() !== '') return lines[index];
  return undefined;
}

/** "Links", "Follow us:", "More here ↓": a short last line that announces what follows. */
function announces(line: string): boolean {
  const trimmed = line.trim();
  const words = trimmed.match(/[\p{L}\p{N}]+/gu)?.length ?? 0;
  return (
    words > 0 &&
    words <= 5 &&
    (/[:↓⬇►👇]\ufe0f?$/u.test(trimmed) ||
      (trimmed === trimmed.toUpperCase() && words <= 3 && /\p{Lu}{3}/u.test(trimmed)))
  );
}
const isHeading = (kept: readonly string[]): boolean => {
  const last = kept.findLast((line) => line.trim() !== '');
  return last !== undefined && announces(last);
};
function withoutTrailingHeading(kept: string[]): string[] {
  if (!isHeading(kept)) return kept;
  const index = kept.findLastIndex((line) => line.trim() !== '');
  return kept.slice(0, index);
}
