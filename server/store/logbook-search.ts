// Searching the logbook for words. The database's index of words lists every entry that says a word and joins the lists: for
// a word that a brand says in nearly every post that takes longer than to read the newest posts. So words that are common in
// the newest are looked for in the rows, and only the rarer ones in the index.
import { select, type Queryable } from '../db/database.ts';

/** So many of the newest entries tell which words are common. */
const SAMPLE = 500;
/** With fewer there is nothing to gain. */
const FEWEST = 200;
/** What so large a share of them says is common. */
const COMMON = 0.05;
/** Ways of writing a word that are looked for one by one; of words with more, the index is asked. */
const MOST_WAYS = 12;

/** A condition on `l`, the logbook. */
export interface Where {
  sql: string;
  values: unknown[];
}

/** The words of a search, with their brand (migration 014), at most twelve. */
function wordsOf(brandId: number, words: string): string[] {
  const each = words.match(/[\p{L}\p{N}]+/gu) ?? [];
  return each.slice(0, 12).map((word) => `b${brandId}_${[...word].slice(0, 60).join('')}`);
}

/** Whether an entry says all of these words, or words that begin so, by the index. */
export const inIndex = (words: readonly string[]): Where => ({
  sql: 'MATCH (l.words) AGAINST (? IN BOOLEAN MODE)',
  values: [words.map((word) => `+${word}*`).join(' ')],
});

/** Letters that the collation takes for several, which a comparison letter by letter does not. */
const SEVERAL: readonly (readonly [several: string, ones: string])[] = [
  ['ss', 'ßẞ'],
  ['ae', 'æÆ'],
  ['oe', 'œŒ'],
  ['ij', 'ĳĲ'],
  ['ffi', 'ﬃ'],
  ['ffl', 'ﬄ'],
  ['ff', 'ﬀ'],
  ['fi', 'ﬁ'],
  ['fl', 'ﬂ'],
  ['st', 'ﬆ'],
  ['dz', 'ǳǲǱ'],
  ['lj', 'ǉǈǇ'],
  ['nj', 'ǌǋǊ'],
];
const severalOf = new Map(SEVERAL.flatMap(([several, ones]) => [...ones].map((one) => [one, several] as const)));

/** Letters with a stroke, which Unicode does not take apart and the collation does. */
const STROKES: Readonly<Record<string, string>> = { ø: 'o', đ: 'd', ł: 'l', ı: 'i', ſ: 's' };
/** A letter without its accent, small. */
function bare(letter: string): string {
  const [first] = letter.normalize('NFD').toLowerCase();
  return STROKES[first!] ?? first!;
}

/**
 * The ways in which the collation lets a word begin that begins so, capitals and accents as they are.
 *
 * @returns null for too many
 * @example waysOf('große') // ['grosse', 'große']
 * @example waysOf('gros') // ['gros', 'groß', 'groﬆ']
 */
export function waysOf(word: string): string[] | null {
  const letters = [...[...word].map((letter) => severalOf.get(letter) ?? letter).join('')];
  const bares = letters.map(bare).join('');
  const ways = new Set<string>();
  const go = (done: string, at: number): void => {
    if (ways.size > MOST_WAYS) return;
    if (at === letters.length) return void ways.add(done);
    for (const [several, [one]] of SEVERAL) {
      if (bares.startsWith(several, at)) go(done + one!, at + several.length);
      // What is typed may end within it.
      else if (several.startsWith(bares.slice(at))) ways.add(done + one!);
    }
    go(done + letters[at]!, at + 1);
  };
  go('', 0);
  return ways.size > MOST_WAYS ? null : [...ways].sort();
}

/** The same as `inIndex` of one word, told by reading the row; null where that cannot be told. */
export function inRow(word: string): Where | null {
  const [brand] = /^b\d+_/.exec(word)!;
  const ways = waysOf(word.slice(brand.length));
  if (!ways) return null;
  return {
    sql: `(${ways.map(() => 'l.words LIKE ?').join(' OR ')})`,
    values: ways.map((way) => `% ${brand.slice(0, -1)}\\_${way}%`),
  };
}

/**
 * What finds the entries of a brand that say all of some words, or words that begin so.
 *
 * @returns none where there is nothing in it that could be looked for
 */
export async function searchFor(db: Queryable, brandId: number, text: string): Promise<Where[]> {
  const words = wordsOf(brandId, text);
  if (words.length === 0) return [];
  const told = words.flatMap((word) => {
    const row = inRow(word);
    return row ? [{ word, row }] : [];
  });
  if (told.length === 0) return [inIndex(words)];
  const [of] = await select<Record<string, number | string | null>>(
    db,
    `SELECT COUNT(*) AS entries, ${told.map(({ row }, index) => `SUM(${row.sql}) AS w${index}`).join(', ')},
       SUM(${told.map(({ row }) => row.sql).join(' AND ')}) AS together
     FROM (SELECT words FROM logbook WHERE brand_id = ? ORDER BY at DESC, id DESC LIMIT ?) l`,
    [...told.flatMap(({ row }) => row.values), ...told.flatMap(({ row }) => row.values), brandId, SAMPLE],
  );
  const entries = Number(of!.entries);
  const isCommon = (said: unknown) => entries >= FEWEST && Number(said) >= entries * COMMON;
  const common = told.filter((_, index) => isCommon(of![`w${index}`]));
  const rare = words.filter((word) => !common.some((each) => each.word === word));
  // Common each, and seldom together: the newest would be read for long before a page is full.
  if (rare.length === 0 && !isCommon(of!.together)) return [inIndex(words)];
  return [...(rare.length > 0 ? [inIndex(rare)] : []), ...common.map(({ row }) => row)];
}
