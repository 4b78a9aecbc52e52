/** Words that English headlines leave small unless they are first or last; common practice of style guides. */
const SMALL = new Set(
  'a an and as at but by en for from if in nor of on or per so the to up via vs with yet'.split(' '),
);

/**
 * A heading as the language writes one: English with capitals on all but its small words, other languages with one
 * capital at the beginning. Words with capitals of their own ("iPhone", "RNLI") and what is no word keep theirs.
 */
export function titleCase(text: string, locale: string): string {
  const capital = (word: string) => word.replace(/\p{L}/u, (letter) => letter.toLocaleUpperCase(locale));
  if (!/^en\b/i.test(locale))
    return text.replace(/^(\P{L}*)([\p{L}\p{M}’']+)/u, (_, lead: string, word: string) => lead + capital(word));
  const words = text.split(/(\s+)/u);
  const isWord = (word: string) => /\p{L}/u.test(word);
  const first = words.findIndex(isWord);
  const last = words.findLastIndex(isWord);
  return words
    .map((word, index) => {
      if (!isWord(word) || /^(?:https?:|www\.|[#＃@])/iu.test(word) || /.\p{Lu}/u.test(word)) return word;
      const afterColon = /[:.!?–—]["”’]?$/u.test(words[index - 2] ?? '');
      const bare = word.replace(/[^\p{L}\p{M}]/gu, '').toLowerCase();
      return SMALL.has(bare) && index !== first && index !== last && !afterColon ? word.toLowerCase() : capital(word);
    })
    .join('');
}

/** Whether a text shouts: nearly all of its letters, and enough of them, are capitals. */
export function isShouting(text: string): boolean {
  // Most texts have enough small letters for a quick no: at most three letters in ten may be small.
  let small = 0;
  const enough = text.length * 0.3;
  for (let index = 0; index < text.length; index++) {
    const unit = text.charCodeAt(index);
    // Letters of hashtags, names and addresses do not count.
    if (unit === 35 || unit === 64 || unit === 0xff03 || text.startsWith('http', index)) break;
    if (unit >= 97 && unit <= 122 && ++small > enough) return false;
  }
  const letters = text.replace(/https?:\S+|[#＃@][\p{XID_Continue}]+/gu, '').match(/\p{Lu}|\p{Ll}/gu) ?? [];
  const capitals = letters.filter((letter) => /\p{Lu}/u.test(letter)).length;
  return letters.length >= 12 && capitals / letters.length >= 0.7;
}

/** A shouted text in an ordinary voice: a capital at the beginning of each sentence. What does not shout stays. */
export function calmed(text: string, locale: string): string {
  if (!isShouting(text)) return text;
  const small = text
    .split(/((?:https?:\S+)|(?:[#＃@][\p{XID_Continue}]+))/u)
    .map((part, index) => (index % 2 ? part : part.toLocaleLowerCase(locale)))
    .join('');
  return withCapitals(small, locale);
}

/** With a capital where a sentence or a line begins. */
function withCapitals(text: string, locale: string): string {
  let said = '';
  // Right after a stop there is no sentence yet: "9.30am".
  let place: 'begins' | 'stopped' | 'inside' = 'begins';
  for (const sign of text) {
    if (/\s/u.test(sign)) {
      if (sign === '\n' || place === 'stopped') place = 'begins';
      said += sign;
    } else {
      said += place === 'begins' && /\p{Ll}/u.test(sign) ? sign.toLocaleUpperCase(locale) : sign;
      place = /[.!?…]/u.test(sign) ? 'stopped' : 'inside';
    }
  }
  return said;
}
