import { cutGraphemes } from './graphemes.ts';
import { composed } from './well-formed.ts';

/** One hashtag from words: "open water" gives "#openWater". Empty when there is nothing a hashtag can hold. */
export function hashtagOf(words: string): string {
  // What may continue an identifier (UAX #31) may stand in a hashtag; everything else parts words.
  const parts = composed(words)
    .replace(/^[#＃]+/u, '')
    .split(/[^\p{XID_Continue}]+/u)
    .filter(Boolean);
  const [first = '', ...rest] = parts;
  const tag = first + rest.map(capitalised).join('');
  // Digits alone are no hashtag anywhere; common practice.
  return /^\p{N}*$/u.test(tag) ? '' : `#${tag}`;
}

/** Hashtags from a list, or from words with commas or lines between; each once, whatever its case. */
export function hashtagsOf(list: string | readonly string[]): string {
  const words = typeof list === 'string' ? list.split(/[,;\n]+/) : list;
  const seen = new Set<string>();
  const tags = words
    .map((each) => hashtagOf(each))
    .filter((tag) => {
      const key = tag.toLowerCase();
      if (tag === '' || seen.has(key)) return false;
      seen.add(key);
      return true;
    });
  return tags.join(' ');
}

function capitalised(word: string): string {
  const first = cutGraphemes(word, 1);
  return first.toLocaleUpperCase('en') + word.slice(first.length);
}

/** A hashtag as networks find it: not behind a letter, as in an address's fragment, nor in an entity. */
const HASHTAG = /(?<![\p{XID_Continue}&/])[#＃][\p{XID_Continue}]+/gu;
/** A name that is called; not the middle of a mail address. */
const MENTION = /(?<![\p{XID_Continue}.@/])@[\p{L}\p{N}_][\p{L}\p{N}_.]*/gu;

/** How many hashtags a text has. */
export function countHashtags(text: string): number {
  return text.includes('#') || text.includes('＃') ? (text.match(HASHTAG)?.length ?? 0) : 0;
}

/** How many names with @ a text calls. */
export function countMentions(text: string): number {
  return text.includes('@') ? (text.match(MENTION)?.length ?? 0) : 0;
}

/** White space is looked at from its beginning only: from each of its places it would be looked at again and again. */
const WITH_SPACE_BEFORE = new RegExp(`(?<![^\\S\\n])[^\\S\\n]*${MENTION.source}`, 'gu');

/** A text without the names it calls. */
export function withoutMentions(text: string): string {
  return text.replace(WITH_SPACE_BEFORE, '');
}
